import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App } from '../app/schema.ts';
import type { Variable } from '../tables/schema.ts';
import { VARIABLES, VARIABLES_RECORD } from '../document/ids.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { openSession } from './fixture.ts';

const make = new ElementMaker();
const V = { words: 'v_words00000', much: 'v_much000000', way: 'v_way0000000' };

function open(more: object, field: string = V.words) {
  const app: App = hiveApp();
  const own = (id: string, name: string, rest: object): Variable =>
    ({ id, name, type: 'text', lasts: 'app', first: '', ...rest }) as Variable;
  app.variables = [
    own(V.words, 'Words', {}),
    own(V.much, 'Much', { type: 'number', least: 0, most: 100 }),
    own(V.way, 'Way', { type: 'choice', choices: ['Wood', 'Straw', 'Foam'].map((name) => ({ name, colour: 0 })) }),
  ];
  app.screens = [
    {
      id: 's_inputs000',
      name: 'Inputs',
      given: null,
      icon: 'list',
      root: make.box('down', [make.make('input', { field, ...more } as object)]),
    },
  ];
  const opened = openSession(app);
  opened.show('s_inputs000');
  return { ...opened, input: () => opened.page.find('input')[0]! };
}
const settled = (): Promise<void> => Promise.resolve();

describe('what an input offers', () => {
  it('is a list that a formula gives, each once, and follows it', async () => {
    const o = open({ offers: `all_${T.hives}.${F.status}` });
    expect([o.input().picks, o.input().choices]).toEqual([true, ['Active', 'Retired']]);
    o.records.set(T.hives, 'moss', { [F.name]: 'Moss', [F.status]: 'Active' });
    await settled();
    expect(o.input().choices).toEqual(['Active', 'Retired']);
    o.records.set(T.hives, 'clover', { [F.status]: 'Active' });
    await settled();
    expect(o.input().choices).toEqual(['Active']);
  });
  it('of a field with choices is some of these, and never another', () => {
    const o = open({ offers: '["Foam", "Glass", "Wood"]' }, V.way);
    expect([o.input().picks, o.input().choices]).toEqual([false, ['Wood', 'Foam']]);
  });
  it('without a formula is what the field has, and a text is typed', () => {
    expect(open({}, V.way).input().choices).toEqual(['Wood', 'Straw', 'Foam']);
    expect(open({}).input()).toMatchObject({ picks: false, choices: [] });
  });
  it('that nothing gives is nothing', () => {
    expect(open({ offers: 'null' }).input()).toMatchObject({ picks: true, choices: [] });
  });
});

describe('the limits of an input', () => {
  it('are those of a formula and of its field, whichever is nearer, and follow', async () => {
    const heaviest = `max(all_${T.hives}.${F.weight})`;
    const o = open({ least: '-5', most: heaviest }, V.much);
    expect([o.input().least, o.input().most]).toEqual([0, 21]);
    o.records.set(T.hives, 'clover', { [F.weight]: 400 });
    await settled();
    expect(o.input().most).toBe(100);
  });
  it('are said where the value is outside', async () => {
    const o = open({ least: '10', most: '20' }, V.much);
    expect(o.input().fails).toBeNull();
    for (const [now, said] of [
      [9.5, 'At least 10, please.'],
      [10, null],
      [20.01, 'At most 20, please.'],
      [null, null],
    ] as const) {
      o.records.set(VARIABLES, VARIABLES_RECORD, { [V.much]: now });
      await settled();
      expect(o.input().fails).toBe(said);
    }
  });
});
