import { expect, it } from 'vitest';
import { noConditions } from '../document/queries.ts';
import type { Where } from '../document/pieces.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { Records } from '../records/store.ts';
import { byName, isNamed, keptCondition, nameCondition } from './named-condition.ts';

const light: Where = {
  match: 'all',
  conditions: [
    { left: F.weight, op: 'over', right: '10' },
    { left: F.status, op: 'is', right: '"Active"' },
  ],
};

it('a condition that is kept is a yes or no field, and fits the same records', () => {
  const app = hiveApp();
  const formula = keptCondition(new Model(app), T.hives, light)!;
  const id = nameCondition(app, T.hives, 'Light', formula);
  const records = new Records(app);
  someRecords(records);
  const fits = records.rows(T.hives).filter((r) => r.get(id) === true);
  expect(fits.map((r) => r.id)).toEqual(
    records
      .rows(T.hives)
      .filter((r) => (r.get(F.weight) as number) > 10 && r.get(F.status) === 'Active')
      .map((r) => r.id),
  );
  expect(fits.length).toBeGreaterThan(0);
  expect(isNamed(app, T.hives, byName(id))).toBe(true);
  expect(isNamed(app, T.hives, light)).toBe(false);
  // A comparison with a figure that is worked out has no name yet.
  const figure = nameCondition(app, T.hives, 'Half', `${F.weight} / 2`);
  const over: Where = { match: 'all', conditions: [{ left: figure, op: 'over', right: '3' }] };
  expect(isNamed(app, T.hives, over)).toBe(false);
});

it('is none while something is missing, or where it goes by what stands around it alone', () => {
  const model = new Model(hiveApp());
  const one = (left: string, right: string): Where => ({ match: 'all', conditions: [{ left, op: 'is', right }] });
  expect(keptCondition(model, T.hives, noConditions())).toBeNull();
  expect(keptCondition(model, T.hives, one(F.weight, ''))).toBeNull();
  expect(keptCondition(model, T.hives, one(F.weight, 'v_variable0'))).toBeNull();
  expect(keptCondition(model, T.hives, { ...light, groups: [light] })).toBeNull();
});
