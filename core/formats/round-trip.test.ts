import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyApp } from '../app/document.ts';
import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { Field, FieldType } from '../tables/schema.ts';
import { Records } from '../records/store.ts';
import { writable } from './formats.ts';
import { toArchive } from './archive.ts';
import { bring } from './bring.ts';
import { exportTable } from './exported.ts';
import { makeApp } from './make-app.ts';
import { draftTable } from './infer.ts';
import { matchColumns, planMerge } from './reimport.ts';
import { readSheets } from './read.ts';

type Column = Pick<Field, 'type'> & Partial<Field> & { cell: fc.Arbitrary<Cell> };

const two = (n: number): string => String(n).padStart(2, '0');
const decimal = (places: number, most = 1e6) =>
  fc.integer({ min: -most, max: most }).map((n) => Number((n / 10 ** places).toFixed(places)));
const date = fc
  .tuple(fc.integer({ min: 1950, max: 2060 }), fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 28 }))
  .map(([y, m, d]) => `${y}-${two(m)}-${two(d)}`);
const clock = fc.tuple(fc.nat(23), fc.nat(59), fc.nat(59)).map((t) => t.map(two).join(':'));
const word = fc.stringMatching(/^[a-zäß]{3,9}$/);
/** Texts as people write them, those that spreadsheet programs take for formulas among them. */
const words = fc
  .tuple(fc.constantFrom('', '', '=', '+', '-', '@', "'", '"'), word, word)
  .map(([sign, a, b]) => `${sign}${a} ${b}`);

/** Cells of every type that a column can have, as people would have filled them. */
const COLUMNS: Partial<Record<FieldType, Column[]>> = {
  text: [{ type: 'text', cell: words }],
  longtext: [{ type: 'longtext', cell: fc.tuple(words, words).map((w) => w.join('\n')) }],
  number: [
    { type: 'number', cell: decimal(3) },
    { type: 'number', unit: 'kg', cell: decimal(1) },
    { type: 'number', unit: 'stacks', cell: fc.nat(90) },
  ],
  money: [
    { type: 'money', unit: '€', cell: decimal(2) },
    { type: 'money', cell: decimal(2) },
    { type: 'money', unit: 'CHF', cell: decimal(2) },
    { type: 'money', unit: '$', cell: decimal(2, 900) },
  ],
  percent: [{ type: 'percent', cell: decimal(3, 2000) }],
  rating: [{ type: 'rating', cell: fc.integer({ min: 1, max: 5 }) }],
  yesno: [{ type: 'yesno', cell: fc.boolean() }],
  date: [{ type: 'date', cell: date }],
  time: [{ type: 'time', cell: clock }],
  datetime: [{ type: 'datetime', cell: fc.tuple(date, clock).map((d) => d.join('T')) }],
  duration: [
    {
      type: 'duration',
      cell: fc.tuple(fc.nat(23), fc.integer({ min: 1, max: 59 })).map(([h, m]) => `PT${h ? `${h}H` : ''}${m}M`),
    },
  ],
  choice: [
    {
      type: 'choice',
      choices: ['calm', 'busy', 'at rest'].map((name, colour) => ({ name, colour })),
      cell: fc.constantFrom('calm', 'busy', 'at rest'),
    },
  ],
  mail: [{ type: 'mail', cell: word.map((w) => `${w}@bees.example`) }],
  phone: [{ type: 'phone', cell: fc.stringMatching(/^\+49 [1-9]\d{2} [1-9]\d{5}$/) }],
  web: [{ type: 'web', cell: word.map((w) => `https://${w}.example/x?y=1`) }],
  picture: [{ type: 'picture', cell: word.map((w) => `https://${w}.example/bee.png`) }],
  place: [
    {
      type: 'place',
      cell: fc
        .tuple(fc.integer({ min: -89_000, max: 89_000 }), fc.integer({ min: -179_000, max: 179_000 }))
        .map(([a, b]) => `${(a + 0.5) / 1000},${(b + 0.5) / 1000}`),
    },
  ],
};
/** Types whose values look like any text: only what a file tells of itself says what they are. */
const TOLD: Partial<Record<FieldType, Column[]>> = {
  code: [{ type: 'code', cell: fc.stringMatching(/^[1-9]\d{7}$/) }],
  person: [{ type: 'person', cell: word }],
  plan: [{ type: 'plan', cell: fc.tuple(fc.nat(98), fc.nat(98)).map(([a, b]) => `${(a + 1) / 100},${(b + 1) / 100}`) }],
  choice: [
    {
      type: 'choice',
      several: true,
      choices: ['wax', 'honey'].map((name, colour) => ({ name, colour })),
      cell: fc.constantFrom('["wax"]', '["wax","honey"]', '["honey"]'),
    },
  ],
  text: [{ type: 'text', cell: fc.constantFrom('12', '1.50', 'yes', '2026-11-25', '=1+1', 'N/A') }],
};

interface Table {
  fields: Field[];
  rows: Cell[][];
}
/** A table with these columns, some cells empty, and enough rows to see what they are. */
const tableOf = (columns: readonly Column[]): fc.Arbitrary<Table> =>
  fc
    .array(fc.tuple(...columns.map((c) => fc.option(c.cell, { freq: 12 }))), { minLength: 24, maxLength: 30 })
    .map((rows) => ({
      fields: columns.map(({ cell: _cell, ...f }, i) => ({
        id: `f_c${i}000000`,
        name: `Column ${'ABCDEFGHIJKLMNOPQRSTUVWXYZ'[i]!}`,
        ...f,
      })),
      rows: rows.filter((r) => r.some((c) => c !== null)) as Cell[][],
    }));

function recordsOf({ fields, rows }: Table): Records {
  const app: App = emptyApp('Trip', 'a_trip00000');
  app.tables = [{ id: 't_trip0000', name: 'Trip', one: 'trip', titleField: fields[0]!.id, pictureField: null, fields }];
  const records = new Records(app);
  records.load(
    't_trip0000',
    rows.map((row, r) => ({
      id: `r${r}`,
      cells: Object.fromEntries(row.flatMap((c, i) => (c === null ? [] : [[fields[i]!.id, c]]))),
    })),
  );
  return records;
}

async function written(table: Table, format: string): Promise<{ name: string; bytes: Uint8Array }> {
  const records = recordsOf(table);
  const bytes =
    format === 'zip'
      ? await toArchive(records.model.app as App, records, async () => null)
      : await writable()
          .find((f) => f.id === format)!
          .write(exportTable(records, 't_trip0000'));
  return { name: `trip.${format}`, bytes };
}

/** What a file becomes when an app is made of it. */
async function brought(file: { name: string; bytes: Uint8Array }): Promise<Table> {
  const { drafts, data, links } = await bring([file]);
  const { app, records } = makeApp('Again', drafts, data, links);
  const { fields } = app.tables[0]!;
  return { fields, rows: records.map((r) => fields.map((f) => r.cells[f.id] ?? null)) };
}

const plain = (f: Field): Partial<Field> => ({
  name: f.name,
  type: f.type,
  ...((f.unit ?? (f.type === 'money' ? '€' : undefined)) && { unit: f.unit ?? '€' }),
  ...(f.several && { several: true }),
});
/** The cells of each column, so that a difference shows where it is. */
const byColumn = ({ fields, rows }: Table): unknown =>
  Object.fromEntries(fields.map((f, i) => [`${f.name} ${f.type}`, rows.map((r) => r[i])]));
const ALL = Object.values(COLUMNS).flat();
const FORMATS = ['csv', 'xlsx', 'json', 'zip'];

describe.each(FORMATS)('a table that goes out as %s and is brought again', (format) => {
  it('has the same types, units and values, one column of each type (property)', async () => {
    await fc.assert(
      fc.asyncProperty(tableOf(ALL), async (table) => {
        const again = await brought(await written(table, format));
        expect(again.fields.map(plain)).toEqual(table.fields.map(plain));
        expect(byColumn(again)).toEqual(byColumn(table));
      }),
      { numRuns: 8, endOnFailure: true },
    );
  });
  it('changes nothing in the table that it came from (property)', async () => {
    await fc.assert(
      fc.asyncProperty(tableOf([...ALL, ...Object.values(TOLD).flat()]), async (table) => {
        const file = await written(table, format);
        const records = recordsOf(table);
        const model = records.model.app.tables[0]!;
        // The first column tells the records apart.
        const key = table.rows.map((r, i) => (r[0] = `hive ${i}`));
        expect(key).toHaveLength(table.rows.length);
        const [sheet] = await readSheets(file.name, (await written(table, format)).bytes);
        const draft = draftTable(sheet!);
        const mapping = matchColumns(model, draft);
        expect(mapping).toEqual(model.fields.map((f) => f.id));
        const present = recordsOf(table).rows('t_trip0000');
        const plan = planMerge(model, present, draft, mapping, [model.fields[0]!.id], () => 'new');
        expect({ add: plan.add, change: plan.change, refused: plan.refused }).toEqual({
          add: [],
          change: [],
          refused: [],
        });
      }),
      { numRuns: 5, endOnFailure: true },
    );
  });
});

describe.each(['xlsx', 'zip'])('a table that goes out as %s tells what its columns are', (format) => {
  it('so that types come back which no value shows (property)', async () => {
    await fc.assert(
      fc.asyncProperty(tableOf([COLUMNS.text![0]!, ...Object.values(TOLD).flat()]), async (table) => {
        const again = await brought(await written(table, format));
        expect(again.fields.map(plain)).toEqual(table.fields.map(plain));
        expect(byColumn(again)).toEqual(byColumn(table));
      }),
      { numRuns: 5, endOnFailure: true },
    );
  });
});
