import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { App } from '../app/schema.ts';
import type { Field, FieldType } from '../tables/schema.ts';
import type { Cell } from '../fields/lists.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { Titles } from '../records/titles.ts';
import { toArchive } from './archive.ts';
import { draftTable } from './infer.ts';
import { likelyKeys, matchColumns, planMerge } from './reimport.ts';
import { readSheets } from './read.ts';
import { exportTable } from './exported.ts';
import { toCsv } from '../../kinds/formats/csv/write.ts';
import { toXlsx } from '../../kinds/formats/xlsx/write.ts';

function open(change: (app: App) => void = () => {}): Records {
  const app = hiveApp();
  change(app);
  const records = new Records(app);
  someRecords(records);
  return records;
}

describe('all data as a zip', () => {
  it('has every table twice and the files of records beside them', async () => {
    const records = open((app) => {
      app.tables[0]!.fields.push({ id: 'f_paper000', name: 'Paper', type: 'file' });
      app.tables[0]!.name = 'Hives / all';
      app.files = [{ id: 'x_logo0000', name: 'logo.svg', type: 'image/svg+xml', data: btoa('<svg/>') }];
    });
    const pdf = `data:application/pdf;name=plan%2F1.pdf;base64,${btoa('one')}`;
    records.set(T.hives, 'bramble', { f_paper000: pdf });
    records.set(T.hives, 'clover', { f_paper000: pdf.replace(btoa('one'), btoa('two')) });
    const zip = unzipSync(await toArchive(records.model.app as App, records, async () => null));
    expect(Object.keys(zip).sort()).toEqual([
      'Hives all files/plan 1 2.pdf',
      'Hives all files/plan 1.pdf',
      'Hives all.csv',
      'Hives all.json',
      'Keepers.csv',
      'Keepers.json',
      'Visits.csv',
      'Visits.json',
      'datapackage.json',
      'files of the app/logo.svg',
    ]);
    expect(strFromU8(zip['Hives all files/plan 1 2.pdf']!)).toBe('two');
    expect(strFromU8(zip['Hives all.csv']!)).toContain('Hives all files/plan 1.pdf');
    expect((JSON.parse(strFromU8(zip['Visits.json']!)) as unknown[]).length).toBe(3);
  });
});

const load = async (bytes: Uint8Array): Promise<ExcelJS.Worksheet> => {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(bytes.slice().buffer as ArrayBuffer);
  return book.worksheets[0]!;
};

describe('tables going out', () => {
  it('come back from CSV and XLSX as they went, whatever their types (property)', async () => {
    const types: [FieldType, fc.Arbitrary<Cell>, Partial<Field>?][] = [
      ['text', fc.constantFrom('Bramble', 'a, "b"', '=1+1', null)],
      ['number', fc.integer({ min: -1e6, max: 1e6 }).map((n) => n / 8)],
      ['percent', fc.integer({ min: 0, max: 4000 }).map((n) => n / 1000)],
      ['money', fc.integer({ min: -1e5, max: 1e5 }).map((n) => n / 100)],
      ['yesno', fc.boolean()],
      ['date', fc.constantFrom('2026-11-23', '1999-02-28')],
      ['datetime', fc.constantFrom('2026-11-23T08:25:00', '2001-01-01T23:59:00')],
      ['duration', fc.constantFrom('PT1H30M', 'P2D', 'P1DT2H')],
      ['place', fc.constantFrom('54.1,-2.25', '-1.5,3')],
      ['choice', fc.constantFrom('["wax","queens"]', '["wax"]'), { several: true }],
    ];
    const fields = types.map(([type, , more], i): Field => ({
      id: `f_type0000${i}`,
      name: `Field ${type}`,
      type,
      ...more,
    }));
    const app = hiveApp();
    app.tables[0]!.fields = fields;
    app.tables[0]!.titleField = fields[0]!.id;
    app.tables[1]!.fields = app.tables[1]!.fields.filter((f) => !f.link && f.type !== 'formula');
    const table = app.tables[0]!;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(...types.map((t) => t[1])), { minLength: 1, maxLength: 4 }),
        fc.boolean(),
        async (rows, csv) => {
          const records = new Records(app);
          const cells = rows.map((r) => Object.fromEntries(fields.map((f, i) => [f.id, r[i]!])));
          records.load(
            T.hives,
            cells.map((c, i) => ({ id: `r${i}`, cells: c })),
          );
          const content = exportTable(records, T.hives);
          const bytes = csv ? new TextEncoder().encode(toCsv(content)) : await toXlsx(content);
          const draft = draftTable((await readSheets(csv ? 'x.csv' : 'x.xlsx', bytes))[0]!, 0);
          const mapping = matchColumns(table, draft);
          const plan = planMerge(table, [], draft, mapping, [], () => 'n');
          expect(plan.refused).toEqual([]);
          expect(plan.add.map((d) => d.do === 'set' && d.cells)).toEqual(
            cells.map((c) => Object.fromEntries(fields.flatMap((f) => (c[f.id] === null ? [] : [[f.id, c[f.id]]])))),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
  it('keep types and formats in XLSX', async () => {
    const records = open((app) =>
      app.tables[0]!.fields.push(
        { id: 'f_share000', name: 'Share', type: 'percent' },
        { id: 'f_price000', name: 'Price', type: 'money', unit: '£' },
        { id: 'f_long0000', name: 'Took', type: 'duration' },
        { id: 'f_many0000', name: 'Skills', type: 'choice', several: true },
        { id: 'f_photo000', name: 'Photo', type: 'picture' },
      ),
    );
    records.set(T.hives, 'bramble', {
      f_share000: 0.125,
      f_price000: 4.5,
      f_long0000: 'PT90M',
      f_many0000: '["wax","queens"]',
      f_photo000: `data:image/png;base64,${'A'.repeat(40_000)}`,
    });
    const content = exportTable(records, T.hives);
    const ws = await load(await toXlsx(content));
    const at = (name: string) => ws.getRow(2).getCell(content.fields.findIndex((f) => f.name === name) + 1);
    expect([at('Share').value, at('Share').numFmt]).toEqual([0.125, '0.##%']);
    expect([at('Price').value, at('Price').numFmt]).toEqual([4.5, '"£"#,##0.00']);
    expect([at('Took').numFmt, at('Weight').numFmt]).toEqual(['[h]:mm', 'General "kg"']);
    expect([at('Skills').value, at('Photo').value]).toEqual(['wax, queens', 'photo']);
    expect(toCsv(content)).not.toContain('base64');
  });
});

describe('workbooks with merged cells and percents', () => {
  async function book(fill: (ws: ExcelJS.Worksheet) => void): Promise<Uint8Array> {
    const b = new ExcelJS.Workbook();
    fill(b.addWorksheet('Hives'));
    return new Uint8Array(await b.xlsx.writeBuffer());
  }
  it('read a header of two rows as one, and pass over a title', async () => {
    const bytes = await book((ws) => {
      ws.addRow(['Hives of the year']);
      ws.mergeCells('A1:E1');
      ws.addRow(['Hive', 'Weight', '', 'Visits', '']);
      ws.addRow(['', 'Spring', 'Autumn', 'Spring', 'Autumn']);
      ws.mergeCells('A2:A3');
      ws.mergeCells('B2:C2');
      ws.mergeCells('D2:E2');
      ws.addRow(['Bramble', 12, 18, 3, 4]);
      ws.addRow(['Clover', 9, 11, 2, 2]);
    });
    const [sheet] = await readSheets('x.xlsx', bytes);
    const draft = draftTable(sheet!);
    expect(draft.columns.map((c) => c.name)).toEqual([
      'Hive',
      'Weight Spring',
      'Weight Autumn',
      'Visits Spring',
      'Visits Autumn',
    ]);
    expect(sheet!.rows.slice(draft.headerRow + 1)).toEqual([
      ['Bramble', '12', '18', '3', '4'],
      ['Clover', '9', '11', '2', '2'],
    ]);
    expect(sheet!.lines.at(-1)).toBe(5);
    expect(sheet!.notes.join()).toContain('merged');
  });
  it('read a share shown in percent as one, and leave merged body cells to their first', async () => {
    const bytes = await book((ws) => {
      ws.addRow(['Hive', 'Share']);
      ws.addRow(['Bramble', 0.125]);
      ws.addRow(['', 0.5]);
      ws.mergeCells('A2:A3');
      ws.getColumn(2).numFmt = '0.0%';
    });
    const [sheet] = await readSheets('x.xlsx', bytes);
    expect(sheet!.rows.slice(1)).toEqual([
      ['Bramble', '12.5%'],
      ['', '50%'],
    ]);
    expect(draftTable(sheet!).columns[1]!.type).toBe('percent');
  });
});

describe('bringing a changed file in', () => {
  const plan = async (csv: string, change: (app: App) => void = () => {}) => {
    const records = open(change);
    const table = records.model.tables.get(T.hives)!.table;
    const draft = draftTable((await readSheets('h.csv', new TextEncoder().encode(csv)))[0]!);
    const mapping = matchColumns(table, draft);
    const keys = likelyKeys(table, mapping);
    let n = 0;
    return {
      keys,
      ...planMerge(table, records.rows(T.hives), draft, mapping, keys, () => `n${++n}`, new Titles(records)),
    };
  };
  it('goes by the table’s key of several fields', async () => {
    const p = await plan('Name,Status,Weight\nBramble,Active,15\nBramble,Retired,9\n', (app) => {
      app.tables[0]!.key = [F.name, F.status];
    });
    expect(p.keys).toEqual([F.name, F.status]);
    expect(p.change).toMatchObject([{ record: 'bramble', cells: { [F.weight]: 15 } }]);
    expect(p.add).toHaveLength(1);
    expect([...p.lines]).toEqual([
      ['bramble', 2],
      ['n1', 3],
    ]);
  });
  it('finds linked records by name, and refuses what leads nowhere', async () => {
    const p = await plan('Tag code,Keeper\nHB-2,odile\nHB-1,Nobody\n');
    expect(p.change).toMatchObject([{ record: 'clover', cells: { [F.keeper]: 'odile' } }]);
    expect(p.refused).toEqual([{ line: 3, reason: 'Keeper: there is no record called “Nobody”.' }]);
  });
});
