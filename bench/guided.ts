import { emptyApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { findLinks } from '../core/formats/find-links.ts';
import type { TableDraft, TypedRows } from '../core/formats/infer.ts';
import { align } from '../core/mirror/align.ts';
import { Records } from '../core/records/store.ts';
import { fastest, format, line } from './measure.ts';

const ROWS = 20_000;
const KEEPERS = 20;

interface Hive {
  code: string;
  next: string;
  yard: string;
  weight: number;
  keeper: number;
}

const hiveAt = (i: number): Hive => ({
  code: `C${i}`,
  next: `C${(i * 7) % ROWS}`,
  yard: `Y${i % 8}`,
  weight: ((i * 37) % 1000) / 10,
  keeper: i % KEEPERS,
});

/** Figures of several groups at once. */
function sumBy<T>(
  rows: readonly T[],
  key: (r: T) => string | number,
  of: (r: T) => number,
): Map<string | number, number> {
  const sums = new Map<string | number, number>();
  for (const r of rows) sums.set(key(r), (sums.get(key(r)) ?? 0) + of(r));
  return sums;
}

/** How many of a sorted list are greater. */
function above(sorted: readonly number[], x: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (sorted[mid]! <= x) low = mid + 1;
    else high = mid;
  }
  return sorted.length - low;
}

/** A field of each kind of guided sentence that looks at many records, and the same by hand with maps and one sort. */
const FIELDS: [string, string, (hives: Hive[]) => unknown[]][] = [
  [
    'a share of the total',
    'round half up(Weight / sum(all Hives.Weight) * 100, 1)',
    (hives) => {
      const total = hives.reduce((a, h) => a + h.weight, 0);
      return hives.map((h) => Math.round((h.weight / total) * 1000) / 10);
    },
  ],
  [
    'a sum of linked records',
    'sum(Keeper.Hives.Weight)',
    (hives) => {
      const sums = sumBy(
        hives,
        (h) => h.keeper,
        (h) => h.weight,
      );
      return hives.map((h) => sums.get(h.keeper));
    },
  ],
  [
    'a rank',
    'count(all Hives[Weight > this hive.Weight]) + 1',
    (hives) => {
      const sorted = hives.map((h) => h.weight).sort((a, b) => a - b);
      return hives.map((h) => above(sorted, h.weight) + 1);
    },
  ],
  [
    'a count of equal ones',
    'count(all Hives[Yard = this hive.Yard])',
    (hives) => {
      const counts = sumBy(
        hives,
        (h) => h.yard,
        () => 1,
      );
      return hives.map((h) => counts.get(h.yard));
    },
  ],
  [
    'a record found by its code',
    'all Hives[Code = this hive.Next][1].Weight',
    (hives) => {
      const byCode = new Map(hives.map((h) => [h.code, h]));
      return hives.map((h) => byCode.get(h.next)?.weight);
    },
  ],
  [
    'a running sum',
    'sum(all Hives[Weight <= this hive.Weight].Weight)',
    (hives) => {
      const sorted = hives.map((h) => h.weight).sort((a, b) => a - b);
      const sums = [0];
      for (const w of sorted) sums.push(sums.at(-1)! + w);
      return hives.map((h) => sums[sorted.length - above(sorted, h.weight)]);
    },
  ],
  [
    'the heaviest of the linked records',
    'Keeper.Hives[Weight = max(Keeper.Hives.Weight)][1].Code',
    (hives) => {
      const best = new Map<number, Hive>();
      for (const h of hives) if (h.weight > (best.get(h.keeper)?.weight ?? -1)) best.set(h.keeper, h);
      return hives.map((h) => best.get(h.keeper)?.code);
    },
  ],
  [
    'values joined',
    'string join(all Hives.Yard, ", ")',
    (hives) => {
      const text = hives.map((h) => h.yard).join(', ');
      return hives.map(() => text);
    },
  ],
  [
    'different values',
    'count(distinct values(all Hives.Yard))',
    (hives) => {
      const n = new Set(hives.map((h) => h.yard)).size;
      return hives.map(() => n);
    },
  ],
  [
    'a value looked for in all',
    'list contains(all Hives.Code, Next)',
    (hives) => {
      const codes = new Set(hives.map((h) => h.code));
      return hives.map((h) => codes.has(h.next));
    },
  ],
];

function hiveApp(formula: string): App {
  const app = emptyApp('Bench', 'a_bench0000');
  app.tables = [
    {
      id: 't_keepers0',
      name: 'Keepers',
      one: 'keeper',
      titleField: 'f_kname000',
      pictureField: null,
      fields: [{ id: 'f_kname000', name: 'Name', type: 'text' }],
    },
    {
      id: 't_hives000',
      name: 'Hives',
      one: 'hive',
      titleField: 'f_code0000',
      pictureField: null,
      fields: [
        { id: 'f_code0000', name: 'Code', type: 'text' },
        { id: 'f_next0000', name: 'Next', type: 'text' },
        { id: 'f_yard0000', name: 'Yard', type: 'text' },
        { id: 'f_weight00', name: 'Weight', type: 'number' },
        {
          id: 'f_keeper00',
          name: 'Keeper',
          type: 'link',
          link: { kind: 'picked', table: 't_keepers0', backName: 'Hives' },
        },
        { id: 'f_figure00', name: 'Figure', type: 'formula', formula },
      ],
    },
  ];
  return app;
}

function hiveRecords(formula: string): Records {
  const records = new Records(hiveApp(formula));
  records.load(
    't_keepers0',
    Array.from({ length: KEEPERS }, (_, i) => ({ id: `k${i}`, cells: { f_kname000: `K${i}` } })),
  );
  records.load(
    't_hives000',
    Array.from({ length: ROWS }, (_, i) => {
      const h = hiveAt(i);
      return {
        id: `h${i}`,
        cells: {
          f_code0000: h.code,
          f_next0000: h.next,
          f_yard0000: h.yard,
          f_weight00: h.weight,
          f_keeper00: `k${h.keeper}`,
        },
      };
    }),
  );
  return records;
}

/** What makers press that looks at all records for each: every sentence anew, one edit to all that shows it, removal in bulk. */
export async function guidedBench(): Promise<void> {
  const hives = Array.from({ length: ROWS }, (_, i) => hiveAt(i));
  console.log(
    `  ${ROWS.toLocaleString('en-GB')} records with one field each; aims: anew 1 s, an edit to all of them 100 ms`,
  );
  for (const [name, formula, byHand] of FIELDS) {
    const records = hiveRecords(formula);
    const slot = records.model.tables.get('t_hives000')!.slots.get('f_figure00')!;
    const all = (): unknown[] => records.rows('t_hives000').map((r) => r.read(slot));
    const expected = byHand(hives);
    all().forEach((v, i) => {
      const [ours, theirs] = [v, expected[i]];
      const same = typeof ours === 'number' ? Math.abs(ours - Number(theirs)) < 1e-6 : ours === theirs;
      if (!same) throw new Error(`${name}: ${String(ours)} is not ${String(theirs)}.`);
    });
    const ours = fastest(() => {
      records.forgetAll();
      all();
    });
    line(
      name,
      ours,
      'maps and one sort by hand',
      fastest(() => byHand(hives)),
      'within 20 times',
    );
    let i = 0;
    const edit = fastest(() => {
      records.set('t_hives000', 'h5', { f_weight00: 50 + (i++ % 9) / 10 });
      all();
    });
    console.log(`    one edit to all that show it: ${format(edit)}`);
  }
  removalBench();
  sheetsBench(hives);
}

/** Half of the records go at once, and come back. */
function removalBench(): void {
  const records = hiveRecords('count(all Hives[Weight > this hive.Weight]) + 1');
  const half = records.rows('t_hives000').filter((_, i) => i % 2);
  const list = Array.from({ length: ROWS }, (_, i) => ({ id: i }));
  line(
    `${half.length.toLocaleString('en-GB')} records removed and put back`,
    fastest(() => {
      records.batch(() => {
        for (const r of half) records.remove('t_hives000', r.id);
      });
      records.rows('t_hives000');
      records.batch(() => {
        for (const r of half) records.putBack(r);
      });
      records.rows('t_hives000');
    }),
    'filtering an array twice and sorting it',
    fastest(() =>
      list
        .filter((r) => r.id % 2)
        .concat(list.filter((r) => r.id % 2 === 0))
        .sort((a, b) => a.id - b.id),
    ),
    'within 30 times',
  );
}

/** Rows of a changed file are found again without a key, and links between many sheets. */
function sheetsBench(hives: readonly Hive[]): void {
  const before = hives.map((h) => [h.code, h.next, h.yard, String(h.weight)]);
  const now = before.map((r, i) => (i % 2 ? [r[0]!, r[1]!, 'moved', '0'] : r)).slice(1);
  const hashes = (): number => {
    const places = new Map(before.map((r, i) => [JSON.stringify(r), i]));
    return now.filter((r) => places.has(JSON.stringify(r))).length;
  };
  line(
    'a file of 20,000 rows, half of them changed, found again',
    fastest(() => align(before, now, [])),
    'looking each row up by its text',
    fastest(hashes),
    'within 10 times',
  );

  const sheets = 30;
  const data: TypedRows[] = Array.from({ length: sheets }, (_, t) => ({
    rows: Array.from({ length: 500 }, (_r, i) => [
      `s${t}-${i}`,
      `s${(t + 1) % sheets}-${(i * 3) % 500}`,
      `note ${t} ${i % 40}`,
    ]),
    unread: [],
  })) as unknown as TypedRows[];
  const drafts = data.map((_, t) => ({
    name: `Sheet ${t}`,
    columns: ['Code', 'Next', 'Note'].map((name) => ({ name, type: 'text', skip: false })),
  })) as unknown as TableDraft[];
  if (findLinks(drafts, data).length < sheets) throw new Error('Links were not found.');
  const index = (): Map<unknown, number> =>
    new Map(data.flatMap((d, t) => d.rows.flatMap((r) => r.map((v) => [v, t] as const))));
  line(
    'links between 30 sheets',
    fastest(() => findLinks(drafts, data)),
    'one map of all their values',
    fastest(index),
    'within 20 times',
  );
}
