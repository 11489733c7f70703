import { expect, it } from 'vitest';
import { compileWhere } from '../records/conditions.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { thingOf } from '../screens/reach.ts';
import { readyConditions } from './ready-conditions.ts';

const app = hiveApp({
  hives: [
    { id: 'f_done00000', name: 'Done', type: 'yesno' },
    { id: 'f_low000000', name: 'Low', type: 'formula', formula: `${F.weight} < 3` },
    { id: 'f_due000000', name: 'Due', type: 'date' },
    {
      id: 'f_kind00000',
      name: 'Kind',
      type: 'choice',
      choices: ['a', 'b'].map((name) => ({ name, colour: 0 })),
    },
  ],
});
const model = new Model(app);

it('what makes sense is ready: a yes or no, whose it is, choices, days', () => {
  expect(readyConditions(app, model, { self: T.hives, things: [] }).map((c) => c.words)).toEqual(
    expect.arrayContaining([
      'Keeper is the person using the app',
      'Done is yes',
      'Done is no',
      'Low is yes',
      'Due is before today',
      'Due is today',
      'Kind is a',
      'Kind is b',
    ]),
  );
});

it.each([
  ['of the records of a list', { self: T.hives, things: [] }],
  ['of the record at hand', { self: null, things: thingOf(model, T.hives) }],
])('each is one that can be asked: %s', (_where, place) => {
  const ready = readyConditions(app, model, place);
  expect(ready.length).toBeGreaterThan(5);
  for (const { condition } of ready)
    expect(
      compileWhere({ match: 'all', conditions: [condition] }, model.optionsFor(place.self, place.things)).problems,
    ).toEqual([]);
});

it('many are cut off, and many choices are not offered one by one', () => {
  const many = hiveApp({
    hives: [
      ...Array.from({ length: 20 }, (_, i) => ({
        id: `f_many${String(i).padStart(5, '0')}`,
        name: `D${i}`,
        type: 'date' as const,
      })),
      {
        id: 'f_kind00000',
        name: 'Kind',
        type: 'choice',
        choices: Array.from({ length: 9 }, (_, i) => ({ name: `k${i}`, colour: 0 })),
      },
    ],
  });
  const ready = readyConditions(many, new Model(many), { self: T.hives, things: [] });
  expect([ready.length, ready.some((c) => c.words.startsWith('Kind'))]).toEqual([14, false]);
});
