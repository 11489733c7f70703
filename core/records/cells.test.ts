import '../fields/typed-texts.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Field, FieldType } from '../tables/schema.ts';
import { DaysDuration } from '../formula/values.ts';
import { readCell, toCell, typedCell } from './cells.ts';
import { checkCell } from './check-cell.ts';
import { listCell, toListCell } from '../fields/lists.ts';
import { fileName } from '../fields/kept-address.ts';
import { display } from './format.ts';
import { exactDuration } from '../fields/durations.ts';
import { patternFits } from '../fields/pattern.ts';
import { readPlaceText, readPlanText } from '../fields/read-place.ts';
import { readDurationText } from '../fields/read-text.ts';

const field = (type: FieldType, more: Partial<Field> = {}): Field => ({
  id: 'f_x000000',
  name: 'Thing',
  type,
  ...more,
});

describe('durations', () => {
  it.each([
    ['1:30', 5_400_000],
    ['1 h 30 min', 5_400_000],
    ['90 minutes', 5_400_000],
    ['2 days', 172_800_000],
    ['1,5 h', 5_400_000],
    ['PT90M', 5_400_000],
    ['45 s', 45_000],
    ['-0:30', -1_800_000],
    ['1:02:03', 3_723_000],
  ])('reads %s', (text, ms) => expect(readDurationText(text)?.ms).toBe(ms));
  it.each(['', 'soon', '90', '1:75', '3 parsecs', 'P1Y'])('refuses %s', (text) =>
    expect(readDurationText(text)).toBeNull(),
  );
  it('are written into forms with nothing left out (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e8, max: 1e8 }), (seconds) => {
        const d = new DaysDuration(seconds * 1000);
        expect(readDurationText(exactDuration(d))).toEqual(d);
      }),
    );
    expect(exactDuration(new DaysDuration(703_200_000))).toBe('8 d 3 h 20 min');
  });
  it('come back as they were kept (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e6, max: 1e6 }), (minutes) => {
        const cell = toCell(new DaysDuration(minutes * 60_000));
        expect(readCell(field('duration'), cell)).toEqual(new DaysDuration(minutes * 60_000));
        expect(typedCell(field('duration'), String(cell))).toBe(cell);
      }),
    );
  });
});

describe('places', () => {
  it('read degrees, a geo address and decimal commas', () => {
    expect(readPlaceText('52.52, 13.405')).toEqual({ latitude: 52.52, longitude: 13.405 });
    expect(readPlaceText('geo:-33.9,18.4')).toEqual({ latitude: -33.9, longitude: 18.4 });
    expect(readPlaceText('52,52; 13,405')).toEqual({ latitude: 52.52, longitude: 13.405 });
    expect(['95, 10', '10, 190', 'here', '1', '1,2,3'].map(readPlaceText)).toEqual([null, null, null, null, null]);
  });
  it('on a plan are shares of its picture', () => {
    expect(readPlanText('0.25, 0.5')).toEqual({ x: 0.25, y: 0.5 });
    expect(readPlanText('25 % across, 50 % down')).toEqual({ x: 0.25, y: 0.5 });
    expect(readPlanText('1.2, 0.5')).toBeNull();
  });
  it('are shown in words and kept as two numbers (property)', () => {
    const place = readCell(field('place'), '54.1,-2.25');
    expect(display(place)).toBe('54.1000° N, 2.2500° W');
    expect(display(readCell(field('plan'), '0.25,0.5'))).toBe('25 % across, 50 % down');
    const degrees = fc.double({ min: -90, max: 90, noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(degrees, degrees, (a, b) => {
        const cell = `${a.toFixed(5)},${b.toFixed(5)}`;
        const kept = typedCell(field('place'), cell);
        expect(readCell(field('place'), kept)).toEqual(readCell(field('place'), cell));
        expect(toCell(readCell(field('place'), kept))).toBe(kept);
      }),
    );
  });
});

describe('several in one cell', () => {
  it('are a list in formulas and a JSON list in the cell', () => {
    const skills = field('choice', { several: true });
    expect(typedCell(skills, 'wax, queens; wax')).toBe('["wax","queens"]');
    expect(readCell(skills, '["wax","queens"]')).toEqual(['wax', 'queens']);
    expect(readCell(skills, 'wax')).toEqual(['wax']);
    expect(toCell(['wax', 'queens'])).toBe('["wax","queens"]');
    expect(toListCell([])).toBeNull();
  });
  it('survive any text (property)', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.string({ minLength: 1 })), (items) => {
        expect(listCell(toListCell(items))).toEqual(items);
      }),
    );
    expect(listCell('[not json')).toEqual(['[not json']);
  });
});

describe('checks of one cell', () => {
  it('refuse what is none of the choices, where only those are allowed', () => {
    const role = field('choice', { only: true, choices: [{ name: 'Keeper', colour: 0 }] });
    expect(checkCell(role, 'Keeper')).toBeNull();
    expect(checkCell(role, 'Pirate')).toBe('“Pirate” is none of the choices of Thing: Keeper.');
    expect(checkCell({ ...role, several: true }, '["Keeper","Pirate"]')).toContain('Pirate');
    expect(checkCell({ ...role, only: false }, 'Pirate')).toBeNull();
  });
  it('say what a pattern asks for', () => {
    const tag = field('text', { pattern: 'HB-####' });
    expect(checkCell(tag, 'hb-0101')).toBeNull();
    expect(checkCell(tag, 'HB-12')).toBe(
      'Thing looks like HB-####, where # is a digit and @ a letter; “HB-12” does not.',
    );
    expect(checkCell(tag, '')).toBeNull();
  });
  it('name files and bound their size', () => {
    expect(fileName('data:application/pdf;name=plan%20b.pdf;base64,AAAA')).toBe('plan b.pdf');
    expect(fileName('data:audio/ogg;base64,AAAA')).toBe('sound');
    expect(checkCell(field('file'), `data:x;base64,${'A'.repeat(1_000_000)}`)).toBeNull();
    expect(checkCell(field('file'), `data:x;base64,${'A'.repeat(1_500_000)}`)).toContain('larger than 1 MB');
    expect(checkCell(field('text'), 'A'.repeat(500_000))).toContain('longer than');
  });
  it('leave what the app writes to the app', () => {
    for (const type of ['id', 'created', 'changed', 'formula'] as const)
      expect(typedCell(field(type), '2026-11-23')).toBeUndefined();
  });
});

describe('patterns', () => {
  it.each([
    ['@@##', 'ab12', true],
    ['@@##', 'ab1', false],
    ['HB-*', 'HB-', true],
    ['*-*', 'a-b-c', true],
    ['*.pdf', 'a.pdf.txt', false],
    ['?', 'é', true],
    ['@', 'É', true],
    ['a+b', 'a+b', true],
    ['', '', true],
    ['', 'x', false],
  ])('%s on %s', (pattern, text, fits) => expect(patternFits(pattern, text)).toBe(fits));
  it('equal a regular expression of the same meaning (property)', () => {
    const sign = fc.constantFrom('#', '@', '?', '*', 'a', '1', '-');
    const meaning: Record<string, string> = { '#': '[0-9]', '@': '\\p{L}', '?': '.', '*': '.*' };
    fc.assert(
      fc.property(
        fc.array(sign, { maxLength: 7 }),
        fc.array(fc.constantFrom('a', '1', '-', 'b', 'é'), { maxLength: 8 }),
        (signs, letters) => {
          const pattern = signs.join('');
          const text = letters.join('');
          const reference = new RegExp(`^${signs.map((c) => meaning[c] ?? c).join('')}$`, 'isu');
          expect(patternFits(pattern, text)).toBe(reference.test(text));
        },
      ),
    );
  });
  it('take no long time, whatever they are', () => {
    expect(patternFits(`${'*a'.repeat(60)}b`, 'a'.repeat(20_000))).toBe(false);
  });
});

describe('a text that begins like a file', () => {
  const file = `data:text/html;name=plan.html;base64,${btoa('<b>x</b>')}`;
  it.each<[string, string | undefined, string]>([
    ['data: bring it on Monday', 'text', 'data: bring it on Monday'],
    ['data: bring it on Monday', undefined, 'data: bring it on Monday'],
    ['data: bring it on Monday', 'file', 'data: bring it on Monday'],
    [file, 'text', file],
    [file, 'longtext', file],
    [file, 'file', 'plan.html'],
    [file, 'formula', 'plan.html'],
    [file, undefined, 'plan.html'],
  ])('%s in a field of type %s', (text, type, shown) =>
    expect(display(text, type === undefined ? undefined : ({ type } as never))).toBe(shown),
  );
});
