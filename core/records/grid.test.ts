import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DaysDuration } from '../formula/values.ts';
import { figureOf } from './figures.ts';
import { F, T, hiveApp } from './fixture.ts';
import { GridView, type GridAsk } from './grid.ts';
import { moveInOrder, type Placed } from './own-order.ts';
import { Records } from './store.ts';

const ask = (more: Partial<GridAsk> = {}): GridAsk => ({
  where: { match: 'all', conditions: [] },
  order: [],
  group: null,
  figures: {},
  search: '',
  closed: [],
  ...more,
});

function hives(): Records {
  const records = new Records(hiveApp());
  const rows: [string, string | null, number | null][] = [
    ['Bramble', 'Active', 14],
    ['Clover', 'Resting', 9],
    ['Thistle', 'Active', 20],
    ['Willow', null, 5],
    ['Sorrel', 'Active', null],
  ];
  records.load(
    T.hives,
    rows.map(([name, status, weight], i) => ({
      id: `h${i}`,
      cells: { [F.name]: name, [F.status]: status, [F.weight]: weight },
    })),
  );
  return records;
}
const words = (view: GridView, from = 0, count = 50): string[] =>
  view
    .part(from, count)
    .part.map((l) => (l.group ? `${String(l.group.value ?? 'nothing')} ${l.group.count}` : l.row.title()));

describe('the grid', () => {
  it('orders by several fields, nothing last', () => {
    const view = new GridView(
      hives(),
      T.hives,
      ask({
        order: [
          { by: F.status, descending: false },
          { by: F.weight, descending: true },
        ],
      }),
    );
    expect(words(view)).toEqual(['Thistle', 'Bramble', 'Sorrel', 'Clover', 'Willow']);
  });
  it('filters by conditions and by what is looked for', () => {
    const where = { match: 'all' as const, conditions: [{ left: F.status, op: 'is' as const, right: '"Active"' }] };
    expect(words(new GridView(hives(), T.hives, ask({ where })))).toEqual(['Bramble', 'Thistle', 'Sorrel']);
    expect(words(new GridView(hives(), T.hives, ask({ where, search: 'this' })))).toEqual(['Thistle']);
  });
  it('puts records together with a figure for each group and for all', () => {
    const view = new GridView(hives(), T.hives, ask({ group: F.status, figures: { [F.weight]: 'sum' } }));
    expect(words(view)).toEqual([
      'Active 3',
      'Bramble',
      'Thistle',
      'Sorrel',
      'Resting 1',
      'Clover',
      'nothing 1',
      'Willow',
    ]);
    const sums = view.part(0, 20).part.flatMap((l) => (l.group ? [l.group.figures[F.weight]] : []));
    expect(sums).toEqual([34, 9, 5]);
    expect(view.figures()).toEqual({ [F.weight]: 48 });
  });
  it('folds groups away, and finds the line of a record', () => {
    const view = new GridView(hives(), T.hives, ask({ group: F.status, closed: ['active'] }));
    expect(words(view)).toEqual(['Active 3', 'Resting 1', 'Clover', 'nothing 1', 'Willow']);
    expect([view.lineOf('h1'), view.lineOf('h0'), view.lineOf('gone')]).toEqual([2, -1, -1]);
    expect(view.part(0, 2)).toMatchObject({ lines: 5, shown: 5 });
  });
  it('follows a change of the records', () => {
    const records = hives();
    const view = new GridView(records, T.hives, ask({ group: F.status }));
    expect(words(view)[0]).toBe('Active 3');
    records.set(T.hives, 'h1', { [F.status]: 'Active' });
    expect(words(view)[0]).toBe('Active 4');
  });
  it('gives any part as the whole would (property)', () => {
    const records = hives();
    const views = [
      ask({ group: F.status }),
      ask({ order: [{ by: F.weight, descending: true }] }),
      ask({ group: F.status, closed: ['resting'] }),
    ].map((a) => new GridView(records, T.hives, a));
    fc.assert(
      fc.property(fc.constantFrom(...views), fc.nat(9), fc.nat(9), (view, from, count) => {
        expect(words(view, from, count)).toEqual(words(view).slice(from, from + count));
      }),
    );
  });
});

describe('figures', () => {
  it('count, add up and compare', () => {
    const values = [3, null, 1, '', 2];
    expect(
      (['count', 'filled', 'sum', 'average', 'lowest', 'highest'] as const).map((f) => figureOf(f, values)),
    ).toEqual([5, 3, 6, 2, 1, 3]);
    expect(figureOf('sum', [])).toBeNull();
    expect(figureOf('sum', [0.1, 0.2])).toBe(0.3);
    expect(figureOf('average', [new DaysDuration(1000), new DaysDuration(3000)])).toEqual(new DaysDuration(2000));
    expect(figureOf('lowest', ['pear', 'apple'])).toBe('apple');
  });
});

describe('own order', () => {
  const ids = (list: Placed[]): string[] =>
    [...list].sort((a, b) => (a.at ?? Infinity) - (b.at ?? Infinity)).map((r) => r.id);
  it('writes one number where there is room', () => {
    const list = ['a', 'b', 'c'].map((id, i) => ({ id, at: i + 1 }));
    expect([...moveInOrder(list, 'c', 'b')]).toEqual([['c', 1.5]]);
    expect([...moveInOrder(list, 'a', null)]).toEqual([['a', 4]]);
    expect(moveInOrder(list, 'a', 'a').size).toBe(0);
  });
  it('ends where it was dragged, from any beginning and however often (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.option(fc.integer({ min: 0, max: 4 })), { minLength: 2, maxLength: 6 }),
        fc.array(fc.tuple(fc.nat(5), fc.nat(6)), { maxLength: 60 }),
        (numbers, moves) => {
          let list: Placed[] = numbers.map((at, i) => ({ id: `r${i}`, at }));
          list.sort((a, b) => (a.at ?? Infinity) - (b.at ?? Infinity));
          for (const [from, to] of moves) {
            const moved = list[from % list.length]!.id;
            const before = list[to]?.id ?? null;
            const order = list.map((r) => r.id);
            const wanted = order.filter((id) => id !== moved);
            wanted.splice(before === null || before === moved ? wanted.length : wanted.indexOf(before), 0, moved);
            const written = moveInOrder(list, moved, before);
            if (before === moved) continue;
            list = list.map((r) => ({ id: r.id, at: written.get(r.id) ?? r.at }));
            list = wanted.map((id) => list.find((r) => r.id === id)!);
            expect(ids(list)).toEqual(wanted);
          }
        },
      ),
    );
  });
});
