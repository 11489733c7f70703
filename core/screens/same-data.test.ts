import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { variablesAt } from './reach.ts';
import { sameData } from './same-data.ts';

describe('plain data', () => {
  const value = fc.jsonValue({ maxDepth: 3 });
  const form = (v: unknown): string =>
    JSON.stringify(v, (_, x: unknown) =>
      // Marked, so that no entries are not the same as an empty list.
      x && typeof x === 'object' && !Array.isArray(x)
        ? ['entries of an object', ...Object.entries(x).sort(([a], [b]) => (a < b ? -1 : 1))]
        : x,
    );
  it('is the same as its copy, in whatever order its entries are (property)', () => {
    fc.assert(
      fc.property(value, value, (a, b) => {
        expect(sameData(a, structuredClone(a))).toBe(true);
        // -0 is another figure than 0 here, and JSON cannot say so.
        if (!/-0\b/.test(`${form(a)}${form(b)}`)) expect(sameData(a, b)).toBe(form(a) === form(b) || Object.is(a, b));
      }),
    );
  });
  it('differs by one item, one entry, or by being a list', () => {
    expect(sameData([1, 2], [1, 2, 3])).toBe(false);
    expect(sameData([1, 2, 3], [1, 2])).toBe(false);
    expect(sameData([], {})).toBe(false);
    expect(sameData({}, [])).toBe(false);
    expect(sameData({ 0: 1, length: 1 }, [1])).toBe(false);
    expect(sameData({ a: 1 }, { a: 1, b: 2 })).toBe(false);
    expect(sameData({ a: 1, b: undefined }, { a: 1 })).toBe(true);
    expect(sameData(null, {})).toBe(false);
    expect(sameData({}, null)).toBe(false);
    expect(sameData('a', {})).toBe(false);
  });
});

it('a variable of one screen is at hand on that screen alone; one of the app on all', () => {
  const app = hiveApp();
  const variable = (id: string, lasts: 'app' | 'screen', screen?: string) => ({
    id,
    name: id,
    type: 'number' as const,
    lasts,
    first: '',
    ...(screen && { screen }),
  });
  app.variables = [
    variable('v_app000000', 'app'),
    variable('v_here00000', 'screen', 's_here00000'),
    variable('v_there0000', 'screen', 's_there0000'),
  ];
  const at = (screen?: string) => variablesAt(new Model(app), screen).map((t) => t.id);
  expect(at('s_here00000')).toEqual(['v_app000000', 'v_here00000']);
  expect(at('s_there0000')).toEqual(['v_app000000', 'v_there0000']);
  expect(at()).toEqual(['v_app000000', 'v_here00000', 'v_there0000']);
});
