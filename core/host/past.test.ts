import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isRemoved, Replica } from './replica.ts';
import { stampText } from './clock.ts';
import type { Change } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { pastOf } from './past.ts';
import { Records } from '../records/store.ts';

const cells = fc.dictionary(fc.constantFrom(F.name, F.weight, F.tag), fc.constantFrom(1, 2, 'a', null), { minKeys: 1 });
const doing = fc.oneof(
  { weight: 5, arbitrary: cells.map((c) => ({ do: 'set' as const, cells: c })) },
  { weight: 1, arbitrary: fc.constant({ do: 'remove' as const }) },
  { weight: 1, arbitrary: cells.map((c) => ({ do: 'restore' as const, cells: c })) },
);
const changes = fc.array(doing, { minLength: 1, maxLength: 12 }).map((list) =>
  list.map((what, i): Change => {
    const stamp = stampText(1_700_000_000_000 + i, 0, 'test');
    return { ...what, id: `c${i}`, stamp, table: T.hives, record: 'h' };
  }),
);

describe('the past of a record', () => {
  it('ends in what merging the same changes in any order ends in', () => {
    fc.assert(
      fc.property(changes, fc.infiniteStream(fc.nat()), (made, chance) => {
        const replica = new Replica(new Records(hiveApp()), false);
        const keys = new Map(made.map((c) => [c, chance.next().value]));
        for (const c of made.toSorted((a, b) => keys.get(a)! - keys.get(b)!)) replica.apply(c);
        const last: Record<string, unknown> = {};
        for (const { cells: done } of pastOf(made)) for (const c of done) last[c.field] = c.is;
        const state = replica.state('h')!;
        const filled = (of: object): object => Object.fromEntries(Object.entries(of).filter(([, c]) => c !== null));
        if (!isRemoved(state)) expect(filled(last)).toEqual(filled(state.cells));
      }),
      { numRuns: 500 },
    );
  });
  it('says of each cell what it was as what it had become before', () => {
    fc.assert(
      fc.property(changes, (made) => {
        const now: Record<string, unknown> = {};
        for (const { cells: done } of pastOf(made))
          for (const c of done) {
            expect(c.was).toBe(now[c.field] ?? null);
            expect(c.is).not.toBe(c.was);
            now[c.field] = c.is;
          }
      }),
    );
  });
  it('says what was done', () => {
    const at = (i: number, what: object): Change =>
      ({ id: `c${i}`, stamp: stampText(i, 0, 'test'), table: T.hives, record: 'h', ...what }) as Change;
    const past = pastOf([
      at(4, { do: 'restore' }),
      at(1, { do: 'set', cells: { [F.name]: 'Fern', [F.weight]: null } }),
      at(3, { do: 'remove' }),
      at(2, { do: 'set', cells: { [F.weight]: 7 }, amounts: { [F.weight]: { by: 7, at: stampText(2, 0, 'test') } } }),
      at(5, { do: 'set', cells: { [F.weight]: 7 } }),
    ]);
    expect(past.map((p) => [p.did, p.cells])).toEqual([
      ['made', [{ field: F.name, was: null, is: 'Fern' }]],
      ['changed', [{ field: F.weight, was: null, is: 7, by: 7 }]],
      [
        'removed',
        [
          { field: F.name, was: 'Fern', is: null },
          { field: F.weight, was: 7, is: null },
        ],
      ],
      [
        'brought back',
        [
          { field: F.name, was: null, is: 'Fern' },
          { field: F.weight, was: null, is: 7 },
        ],
      ],
    ]);
  });
});
