import fc from 'fast-check';
import { expect, test } from 'vitest';
import { emptyApp } from '../app/document.ts';
import type { App } from '../app/schema.ts';
import { compile } from '../formula/compile.ts';
import { toJson } from '../formula/json.ts';
import type { Value } from '../formula/values.ts';
import { Records, type Cells } from './store.ts';

/** Formulas over many records, each worked out for every hive. */
const FORMULAS = [
  'sum(all Hives.Weight)',
  'count(all Hives[Yard = "A"])',
  'count(all Hives[Yard = this hive.Yard])',
  'sum(all Hives[this hive.Yard = Yard].Weight)',
  'string join(all Hives[Yard = this hive.Yard].Code, ",")',
  'count(all Hives[Weight > this hive.Weight]) + 1',
  'count(all Hives[this hive.Weight <= Weight])',
  'count(all Hives[Seen < this hive.Seen])',
  'count(all Hives[Code >= this hive.Code])',
  'count(all Hives[Yard = this hive.Yard and Weight > this hive.Weight])',
  'count(all Hives[Yard = this hive.Yard and Seen = this hive.Seen])',
  'count(all Hives[Yard = this hive.Yard and contains(Code, this hive.Yard)])',
  'sum(all Hives[Weight <= this hive.Weight].Weight)',
  'mean(all Hives[Weight >= this hive.Weight].Weight)',
  'min(all Hives[Seen > this hive.Seen].Weight)',
  'max(all Hives[Weight < this hive.Weight].Seen)',
  'max(all Hives[Weight < this hive.Weight].Mixed)',
  'sum(all Hives[Weight < this hive.Weight].Mixed)',
  'count(all Hives[Mixed > this hive.Weight])',
  'count(all Hives[Mixed = this hive.Mixed])',
  'all Hives[Weight = max(all Hives.Weight)][1].Code',
  'all Hives[Code = this hive.Next][1].Weight',
  'Keeper.Hives[Weight = min(Keeper.Hives.Weight)][1].Code',
  'sum(Keeper.Hives.Weight)',
  'count(Keeper.Hives[Weight > this hive.Weight]) + 1',
  'count(all Hives[Keeper.Name = this hive.Keeper.Name])',
  'count(all Hives[Keeper = this hive.Keeper])',
  'count(distinct values(all Hives.Seen))',
  'union(all Hives.Yard, [this hive.Yard])',
  'list contains(all Hives.Code, Next)',
  'index of(all Hives.Yard, Yard)',
  'count(all Hives[Seen > today()])',
  'count(all Hives[Seen > today() and Yard = this hive.Yard])',
  'for x in distinct values(all Hives.Yard) return count(all Hives[Yard = x])',
  'sum(for x in all Keepers return count(all Hives[Yard = (if x.Name = "K1" then this hive.Yard else "B")]))',
  'some h in all Hives satisfies h.Weight > this hive.Weight and h.Yard = this hive.Yard',
  'every h in Keeper.Hives satisfies count(all Hives[Yard = h.Yard]) > 1',
  '{y: Yard, n: count(all Hives[Yard = y])}.n',
  'all Hives[count(all Hives[Yard = item.Yard]) > 3].Code',
  '(function(y) count(all Hives[Yard = y]))(Yard)',
  'count((for h in all Hives return h)[Yard = this hive.Yard])',
  'count(all Hives[Weight = null])',
  'count(all Hives[Both = this hive.Both])',
] as const;

const text = (id: string, name: string) => ({ id, name, type: 'text' as const });
const formula = (id: string, name: string, of: string) => ({ id, name, type: 'formula' as const, formula: of });

function apiary(): App {
  const app = emptyApp('Hives', 'a_figures00');
  app.tables = [
    {
      id: 't_keepers0',
      name: 'Keepers',
      one: 'keeper',
      titleField: 'f_kname000',
      pictureField: null,
      fields: [text('f_kname000', 'Name')],
    },
    {
      id: 't_hives000',
      name: 'Hives',
      one: 'hive',
      titleField: 'f_code0000',
      pictureField: null,
      fields: [
        text('f_code0000', 'Code'),
        text('f_next0000', 'Next'),
        text('f_yard0000', 'Yard'),
        { id: 'f_weight00', name: 'Weight', type: 'number' },
        { id: 'f_seen0000', name: 'Seen', type: 'date' },
        {
          id: 'f_keeper00',
          name: 'Keeper',
          type: 'link',
          link: { kind: 'picked', table: 't_keepers0', backName: 'Hives' },
        },
        formula('f_mixed000', 'Mixed', 'if f_yard0000 = "C" and f_code0000 = "1" then f_code0000 else f_weight00'),
        formula('f_both0000', 'Both', '[f_yard0000, f_seen0000]'),
      ],
    },
  ];
  return app;
}

const cells = fc.record({
  f_code0000: fc.constantFrom('1', '2', '3', 'A4', 'B5'),
  f_next0000: fc.constantFrom('1', '3', 'none'),
  f_yard0000: fc.constantFrom('A', 'B', 'C', null),
  f_weight00: fc.constantFrom(0, 0.1, 0.2, 12.5, -3, null),
  f_seen0000: fc.constantFrom('2026-11-20', '2026-11-25', '2026-12-01', null),
  f_keeper00: fc.constantFrom('k1', 'k2', null),
});
const edit = fc.oneof(
  fc.record({ do: fc.constant('set' as const), at: fc.nat(60), cells }),
  fc.record({ do: fc.constant('remove' as const), at: fc.nat(60), cells }),
);

test('figures kept from record to record are those worked out anew, after any edits (property)', () => {
  const now = (): number => Date.UTC(2026, 10, 25, 9);
  const options = new Records(apiary(), now).model.optionsFor('t_hives000');
  for (const f of FORMULAS) {
    expect(
      compile(f, options).problems.filter((p) => p.severity === 'error'),
      f,
    ).toEqual([]);
  }
  const used = new Set<string>();
  let turn = 0;
  fc.assert(
    fc.property(
      fc.array(cells, { minLength: 30, maxLength: 45 }),
      fc.array(edit, { maxLength: 6 }),
      fc.shuffledSubarray([...FORMULAS], { minLength: 4, maxLength: 8 }),
      (hives, edits, some) => {
        // One after the other each has its turn, whatever chance takes.
        const formulas = [...new Set([...some, FORMULAS[turn++ % FORMULAS.length]!])];
        const records = new Records(apiary(), now);
        records.load('t_keepers0', [
          { id: 'k1', cells: { f_kname000: 'K1' } },
          { id: 'k2', cells: { f_kname000: 'K2' } },
        ]);
        records.load(
          't_hives000',
          hives.map((c, i) => ({ id: `h${i}`, cells: { ...c } as Cells })),
        );
        const plain = { now, person: () => null, all: records.runtime.all } as unknown as Value;
        const compiled = formulas.map((f) => compile(f, records.model.optionsFor('t_hives000')));
        const check = (): void => {
          for (const row of records.rows('t_hives000')) {
            compiled.forEach((c, i) => {
              const kept = toJson(c.run([records.runtime as unknown as Value, row]));
              const anew = toJson(c.run([plain, row]));
              expect(kept, `${formulas[i]} of ${row.id}`).toEqual(anew);
              if (anew !== null) used.add(formulas[i]!);
            });
          }
        };
        check();
        for (const e of edits) {
          if (e.do === 'set') records.set('t_hives000', `h${e.at}`, e.cells as Cells);
          else {
            const row = records.row('t_hives000', `h${e.at}`);
            records.remove('t_hives000', `h${e.at}`);
            if (row && e.at % 2) records.putBack(row);
          }
          check();
        }
      },
    ),
    { numRuns: Math.max(60, FORMULAS.length) },
  );
  expect(FORMULAS.filter((f) => !used.has(f))).toEqual([]);
});
