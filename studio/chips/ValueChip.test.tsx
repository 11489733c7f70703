// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { thisId } from '../../core/document/ids.ts';
import { F, T, hiveApp } from '../../core/records/fixture.ts';
import { Model } from '../../core/records/model.ts';
import { thingOf } from '../../core/screens/reach.ts';
import type { Field } from '../../core/tables/schema.ts';
import { openApp, show } from '../fixture.tsx';
import { ValueChip, type ValueChipProps } from './ValueChip.tsx';

const thisHive = thisId(T.hives);
const place = { self: null, things: thingOf(new Model(hiveApp()), T.hives) };

function chip(more: Partial<ValueChipProps> = {}) {
  openApp(hiveApp(), {
    trying: { values: async (_place: unknown, stored: string[]) => stored.map((s) => `like ${s.length}`) },
  });
  const onChange = vi.fn();
  show(<ValueChip name="Value" value="" place={place} onChange={onChange} {...more} />);
  return onChange;
}
const open = (): Promise<void> => userEvent.click(screen.getByRole('button', { name: /^Value: / }));
const offered = (): string[] => screen.getAllByRole('option').map((o) => o.textContent);
const field = (type: Field['type'], more: Partial<Field> = {}): Field => ({ id: F.tag, name: 'Field', type, ...more });

describe('what a chip says', () => {
  it.each<[string, Partial<ValueChipProps>, string]>([
    ['nothing yet', {}, 'Value: choose a value'],
    ['in other words where told', { empty: 'whom' }, 'Value: whom'],
    [
      'a path by today’s names',
      { value: `${thisHive}.${F.keeper}.${F.keeperName}` },
      'Value: this hive › Keeper › Name',
    ],
    ['a text', { value: '"Odile"' }, 'Value: Odile'],
    ['a number', { value: '12.5' }, 'Value: 12.5'],
    ['a length of time', { value: '@"PT10M"' }, 'Value: 10 minutes'],
  ])('%s', (_what, props, said) => {
    chip(props);
    expect(screen.getByRole('button').getAttribute('aria-label')).toBe(said);
  });
});

describe('a value that is typed', () => {
  it.each<[string, Field | undefined, string, string]>([
    ['a text', field('text'), 'Odile', '"Odile"'],
    ['with quotes in it', field('text'), 'say "x"', JSON.stringify('say "x"')],
    ['figures in a text field stay a text', field('text'), '007', '"007"'],
    ['a number', field('number'), '12.5', '12.5'],
    ['a date as people write it', field('date'), '23.11.2026', '@"2026-11-23"'],
    ['a yes', field('yesno'), 'yes', 'true'],
    ['where no field says more, figures are a number', undefined, '12', '12'],
    ['and words a text', undefined, 'Odile', '"Odile"'],
  ])('%s', async (_what, of, typed, stored) => {
    const onChange = chip({ field: of });
    await open();
    await userEvent.keyboard(typed);
    await userEvent.click(screen.getByText(`Use “${typed}”`));
    expect(onChange.mock.calls).toEqual([[stored]]);
  });
  it('is not offered when it does not fit the field, or where only a record makes sense', async () => {
    chip({ field: field('number') });
    await open();
    await userEvent.keyboard('heavy');
    expect(screen.queryByText(/^Use “/)).toBeNull();
  });
  it('nor where only a path makes sense', async () => {
    chip({ literals: false });
    await open();
    await userEvent.keyboard('12');
    expect(screen.queryByText(/^Use “/)).toBeNull();
  });
});

describe('what is offered', () => {
  it('the fields in reach with a value each, and along links', async () => {
    const onChange = chip();
    await open();
    const choices = offered();
    expect(choices).toContain('this hive › Weightlike 24');
    expect(choices.some((c) => c.startsWith('this hive › Keeper › Name'))).toBe(true);
    await userEvent.keyboard('weight{Enter}');
    expect(onChange.mock.calls).toEqual([[`${thisHive}.${F.weight}`]]);
  });
  it('the choices of a field come first', async () => {
    const onChange = chip({ field: hiveApp().tables[0]!.fields.find((f) => f.id === F.status) });
    await open();
    expect(offered().slice(0, 2)).toEqual(['Active', 'Retired']);
    await userEvent.click(screen.getByText('Retired'));
    expect(onChange.mock.calls).toEqual([['"Retired"']]);
  });
  it('a record where a record is wanted', async () => {
    const onChange = chip({ wanted: { record: T.keepers }, literals: false });
    await open();
    expect(offered().filter((c) => c.includes('Weight'))).toEqual([]);
    await userEvent.keyboard('keeper{Enter}');
    expect(onChange.mock.calls).toEqual([[`${thisHive}.${F.keeper}`]]);
  });
});
