import { expect, it } from 'vitest';
import { addScreen } from '../../../core/app/edits.ts';
import { ElementMaker } from '../../../core/app/make.ts';
import type { Element } from '../../../core/app/schema.ts';
import { hiveApp, someRecords } from '../../../core/records/fixture.ts';
import { Records } from '../../../core/records/store.ts';
import { drawn } from '../../../core/session/fixture.ts';

const make = new ElementMaker();

/** What an element gives its view. */
function shown(element: Element): Record<string, unknown> {
  const app = hiveApp();
  const screen = addScreen(app, 'One');
  screen.root.children = [element];
  app.files.push({ id: 'x_sound0000', name: 'Sound', type: 'audio/wav', data: btoa('RIFF') });
  const records = new Records(app, () => Date.UTC(2026, 10, 25, 9));
  someRecords(records);
  return drawn(app, records, screen.id, null).find(element.kind)[0]! as unknown as Record<string, unknown>;
}

it.each([
  ['date(2027, 4, 15)', '2027-04-15T00:00:00'],
  ['@"2026-12-01T18:30:00"', '2026-12-01T18:30:00'],
  ['@"2026-12-01T18:30:00+02:00"', '2026-12-01T16:30:00.000Z'],
  ['@"2026-07-01T12:00:00@Europe/Paris"', '2026-07-01T10:00:00.000Z'],
  ['"soon"', null],
  ['', null],
])('a countdown until %s counts to %j', (until, expected) => {
  expect(shown(make.make('countdown', { until }))['until']).toBe(expected);
});

it('a player plays addresses and the app’s own files', () => {
  const address = (source: string): unknown => shown(make.make('player', { source }))['address'];
  expect(address('"https://bees.example/song.mp3"')).toBe('https://bees.example/song.mp3');
  expect(address('"file:x_sound0000"')).toBe(`data:audio/wav;base64,${btoa('RIFF')}`);
  expect(address('"file:x_gone00000"')).toBe('');
  expect(address('')).toBe('');
});

it('a QR code and a badge say their words with the values in them', () => {
  expect(shown(make.make('code', { words: 'A{1 + 1}' }))).toMatchObject({ words: 'A2', size: 180 });
  expect(shown(make.make('badge', { words: ' {2 * 3} new ' }))).toMatchObject({ words: '6 new' });
});
