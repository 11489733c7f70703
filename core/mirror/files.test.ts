import ExcelJS from 'exceljs';
import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import type { Draft } from '../records/change.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { draftTable } from '../formats/infer.ts';
import { guessDelimiter } from '../../kinds/formats/csv/read.ts';
import { DelimitedFile } from '../../kinds/formats/csv/table-file.ts';
import { mirrorColumns, mirrorStep, type Step } from './step.ts';
import type { FileEdit, TableFile } from '../formats/table-file.ts';
import { openTableFile } from '../formats/read.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (b: Uint8Array): string => new TextDecoder('utf-8', { ignoreBOM: true }).decode(b);
const cell = (line: number, column: number, t: string): FileEdit => ({ do: 'cell', line, column, value: { text: t } });

describe('delimited text', () => {
  const edit = async (before: string, ...edits: FileEdit[]): Promise<string> =>
    text(await new DelimitedFile('x.csv', bytes(before)).write(0, edits));

  it('changes one cell and nothing else', async () => {
    const before = 'Name;Weight;Notes\r\n"Old ""Otter""";14,0;"two\r\nlines"\r\n Clover ;9;\r\n';
    expect(await edit(before, cell(2, 1, '15,5'))).toBe(before.replace('14,0', '15,5'));
    expect(await edit(before, cell(4, 1, '10'))).toBe(before.replace(';9;', ';10;'));
    expect(await edit(before)).toBe(before);
  });
  it('quotes what needs it, lengthens short lines, keeps the line end', async () => {
    expect(await edit('a,b\n1\n', cell(2, 1, 'x,y'))).toBe('a,b\n1,"x,y"\n');
    expect(
      await edit('a,b\n1,2', {
        do: 'append',
        cells: new Map([
          [0, { text: '3' }],
          [1, { text: ' "4"' }],
        ]),
      }),
    ).toBe('a,b\n1,2\n3," ""4"""\n');
    expect(await edit('a,b\r\n1,2\r\n3,4\r\n', { do: 'remove', line: 2 })).toBe('a,b\r\n3,4\r\n');
  });
  it('keeps its encoding, and becomes UTF-8 when a letter does not fit the old one', async () => {
    const western = new Uint8Array([0x61, 0x0a, 0xe9, 0x0a]);
    expect([...(await new DelimitedFile('x.csv', western).write(0, [cell(2, 0, 'è€')]))]).toEqual([
      0x61, 0x0a, 0xe8, 0x80, 0x0a,
    ]);
    expect(text(await new DelimitedFile('x.csv', western).write(0, [cell(2, 0, 'ł')]))).toBe('\uFEFFa\nł\n');
    const wide = new Uint8Array([0xff, 0xfe, 0x61, 0, 0x0a, 0, 0x62, 0]);
    expect([...(await new DelimitedFile('x.csv', wide).write(0, [cell(2, 0, 'ł')]))]).toEqual([
      0xff, 0xfe, 0x61, 0, 0x0a, 0, 0x42, 0x01,
    ]);
  });
  it('reads what the reference parser reads (property)', () => {
    const word = fc.stringMatching(/^[a-z "\n\r,;é]{0,6}$/);
    fc.assert(
      fc.property(fc.array(fc.array(word, { minLength: 2, maxLength: 3 }), { minLength: 1, maxLength: 5 }), (rows) => {
        const csv = Papa.unparse(rows, { newline: '\r\n' });
        const expected = rows.filter((r) => r.some((c) => c.trim() !== ''));
        const file = new DelimitedFile('x.csv', bytes(csv));
        // A text without a second delimiter leaves the reference guessing too.
        if (Papa.parse<string[]>(csv, { delimiter: ',' }).data.length !== rows.length) return;
        const guessed = guessDelimiter(csv);
        if (guessed === ',') expect(file.sheets[0]!.rows).toEqual(expected);
      }),
    );
  });
  it('holds after any edit what was written, and everything else as before (property)', async () => {
    const word = fc.stringMatching(/^[a-z",\n ]{1,5}$/).filter((s) => s.trim() !== '');
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(word, word, word), { minLength: 1, maxLength: 5 }),
        fc.nat(4),
        fc.nat(2),
        word,
        async (rows, r, c, put) => {
          const file = new DelimitedFile('x.csv', bytes(Papa.unparse(rows, { newline: '\n', delimiter: ',' })));
          const sheet = file.sheets[0]!;
          if (sheet.rows.length !== rows.length || sheet.rows.some((x) => x.length !== 3)) return;
          const line = sheet.lines[r % rows.length]!;
          const after = new DelimitedFile('x.csv', await file.write(0, [cell(line, c, put)]));
          const expected = rows.map((x) => [...x]);
          expected[r % rows.length]![c] = put;
          if (after.sheets[0]!.rows[0]!.length === 3) expect(after.sheets[0]!.rows).toEqual(expected);
        },
      ),
    );
  });
});

async function workbook(): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  const ws = book.addWorksheet('Hives');
  ws.addRow(['Name', 'Weight', 'Share', 'When', 'Twice']);
  ws.addRow(['Bramble', 14.5, 0.125, new Date(Date.UTC(2026, 10, 23)), { formula: 'B2*2', result: 29 }]);
  ws.addRow(['Clover', 9, 0.5, new Date(Date.UTC(2026, 10, 24)), { formula: 'B3*2', result: 18 }]);
  ws.getColumn(3).numFmt = '0.0%';
  ws.getColumn(4).numFmt = 'dd/mm/yyyy';
  ws.getCell('A2').font = { bold: true, color: { argb: 'FFC8441F' } };
  const other = book.addWorksheet('Other');
  other.addRow(['leave', 'me']);
  return new Uint8Array(await book.xlsx.writeBuffer());
}
const load = async (b: Uint8Array): Promise<ExcelJS.Workbook> => {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(b.slice().buffer as ArrayBuffer);
  return book;
};

describe('workbooks', () => {
  it('change single cells; styles, formulas and other sheets stay', async () => {
    const file = await openTableFile('x.xlsx', await workbook());
    const out = await file.write(0, [
      { do: 'cell', line: 2, column: 0, value: { text: 'Bramble & <Fern>' } },
      { do: 'cell', line: 3, column: 1, value: { text: '10', number: 10 } },
      { do: 'cell', line: 3, column: 3, value: { text: '2026-12-24', serial: 46_380 } },
      {
        do: 'append',
        cells: new Map([
          [0, { text: 'Sorrel' }],
          [1, { text: '3', number: 3 }],
          [3, { text: 'x', serial: 46_381 }],
        ]),
      },
    ]);
    const book = await load(out);
    const ws = book.getWorksheet('Hives')!;
    expect(ws.getCell('A2').value).toBe('Bramble & <Fern>');
    expect(ws.getCell('A2').font).toMatchObject({ bold: true, color: { argb: 'FFC8441F' } });
    expect(ws.getCell('B3').value).toBe(10);
    expect(ws.getCell('D3').value).toEqual(new Date(Date.UTC(2026, 11, 24)));
    expect(ws.getCell('E2').formula).toBe('B2*2');
    expect([ws.getCell('A4').value, ws.getCell('B4').value]).toEqual(['Sorrel', 3]);
    expect(ws.getCell('D4').value).toEqual(new Date(Date.UTC(2026, 11, 25)));
    expect(book.getWorksheet('Other')!.getCell('B1').value).toBe('me');
    expect((await openTableFile('x.xlsx', out)).sheets[0]!.rows[1]).toEqual([
      'Bramble & <Fern>',
      '14.5',
      '12.5%',
      '2026-11-23',
      '29',
    ]);
  });
  it('write durations as the book counts them', async () => {
    const book = new ExcelJS.Workbook();
    const ws = book.addWorksheet('Jobs');
    ws.addRow(['Job', 'Took']);
    ws.addRow(['Roof', 1.0625]);
    ws.getColumn(2).numFmt = '[h]:mm';
    const file = await openTableFile('x.xlsx', new Uint8Array(await book.xlsx.writeBuffer()));
    expect(file.sheets[0]!.rows[1]).toEqual(['Roof', '25:30:00']);
    const out = await file.write(0, [{ do: 'cell', line: 2, column: 1, value: { text: '2 h', days: 2 / 24 } }]);
    expect((await openTableFile('x.xlsx', out)).sheets[0]!.rows[1]).toEqual(['Roof', '2:00:00']);
  });
  it('know which cells the book works out by itself', async () => {
    const file = await openTableFile('x.xlsx', await workbook());
    expect([file.isLocked(0, 2, 4), file.isLocked(0, 2, 1)]).toEqual([true, false]);
  });
  it('empty a row without moving the others', async () => {
    const file = await openTableFile('x.xlsx', await workbook());
    const ws = (await load(await file.write(0, [{ do: 'remove', line: 2 }]))).getWorksheet('Hives')!;
    expect([ws.getCell('A2').value, ws.getCell('A3').value]).toEqual([null, 'Clover']);
  });
  it('say so when a file is half written or something else', async () => {
    const whole = await workbook();
    await expect(openTableFile('x.xlsx', whole.slice(0, whole.length / 2))).rejects.toThrow(
      /not a workbook that can be read/,
    );
    await expect(openTableFile('x.xlsx', bytes('a,b'))).rejects.toThrow(/no workbook/);
    await expect(openTableFile('x.csv', new Uint8Array())).rejects.toThrow(/is empty/);
    await expect(openTableFile('x.csv', new Uint8Array([1, 0, 2, 0]))).rejects.toThrow(/no text/);
  });
});

describe('a table and its mirrored file', () => {
  function setUp(file: TableFile) {
    const records = new Records(hiveApp());
    records.load(T.keepers, [{ id: 'k1', cells: { [F.keeperName]: 'Odile' } }]);
    const table = records.model.tables.get(T.hives)!.table;
    let n = 0;
    const spec = {
      table: T.hives,
      file: 'hives.csv',
      sheet: file.sheets[0]!.name,
      columns: mirrorColumns(table, draftTable(file.sheets[0]!)),
    };
    const step = (f: TableFile, base: Step['written'] | null): Step => {
      const s = mirrorStep({
        records,
        table,
        spec,
        file: f,
        base,
        first: 'file',
        fileTime: 1,
        appTime: () => 2,
        newId: () => `n${++n}`,
      });
      for (const d of s.drafts) apply(records, d);
      return s;
    };
    return { records, step };
  }
  const apply = (records: Records, d: Draft): void => {
    if (d.do === 'set') records.set(d.table, d.record, { ...records.row(d.table, d.record)?.cells, ...d.cells });
    else if (d.do === 'remove') records.remove(d.table, d.record);
  };
  const CSV = 'Tag code;Name;Weight;Keeper;Colour\r\nHB-1;Bramble;14,5;Odile;red\r\nHB-2;Clover;9,0;;blue\r\n';

  it('reads by the column’s own way of writing and writes back the same way', async () => {
    const file = await openTableFile('hives.csv', bytes(CSV));
    const { records, step } = setUp(file);
    const first = step(file, null);
    expect(records.rows(T.hives).map((r) => [r.title(), r.get('Weight')])).toEqual([
      ['Bramble', 14.5],
      ['Clover', 9],
    ]);
    expect(records.rows(T.hives)[0]!.cells[F.keeper]).toBe('k1');
    const [a] = records.rows(T.hives);
    records.set(T.hives, a!.id, { [F.weight]: 15.25, [F.name]: '=cmd()' });
    const next = step(file, first.written);
    const out = text(await file.write(0, next.edits));
    expect(out).toBe(CSV.replace('Bramble;14,5', "'=cmd();15,25"));
    const again = await openTableFile('hives.csv', bytes(out));
    expect(step(again, next.written)).toMatchObject({ drafts: [], edits: [], conflicts: [] });
  });
  it('leaves columns that are not its own alone, even when a record goes', async () => {
    const file = await openTableFile('hives.csv', bytes(CSV));
    const { records, step } = setUp(file);
    const first = step(file, null);
    records.remove(T.hives, records.rows(T.hives)[0]!.id);
    const next = step(file, first.written);
    const out = text(await file.write(0, next.edits));
    expect(out).toBe(CSV.replace('HB-1;Bramble;14,5;Odile;red', ';;;;red'));
    const after = await openTableFile('hives.csv', bytes(out));
    expect(step(after, next.written)).toMatchObject({ drafts: [], edits: [], removed: 0 });
  });
  it('says which cells do not fit, and keeps what the app has', async () => {
    const file = await openTableFile('hives.csv', bytes(CSV));
    const { records, step } = setUp(file);
    const first = step(file, null);
    const odd = await openTableFile('hives.csv', bytes(CSV.replace('14,5', 'heavy').replace('Odile', 'Nobody')));
    const next = step(odd, first.written);
    expect(next.misfits).toEqual(['Line 2: “heavy” does not fit Weight.', 'Line 2: “Nobody” does not fit Keeper.']);
    expect(records.rows(T.hives)[0]!.get('Weight')).toBe(14.5);
    expect(next.edits).toEqual([]);
  });
  it('says which column is missing', async () => {
    const file = await openTableFile('hives.csv', bytes(CSV));
    const { step } = setUp(file);
    const first = step(file, null);
    const lost = await openTableFile('hives.csv', bytes(CSV.replace('Weight', 'Kilos')));
    expect(() => step(lost, first.written)).toThrow('The column “Weight” is not in “hives.csv” any more.');
  });
});
