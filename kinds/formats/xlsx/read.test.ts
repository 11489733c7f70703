import { strToU8, zipSync } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { draftTable, readRows } from '../../../core/formats/infer.ts';
import { readSheets } from '../../../core/formats/read.ts';
import type { Sheet } from '../../../core/formats/sheet.ts';
import { numberText as exactNumber } from '../../../core/formula/number.ts';
import { numberText, readFormat } from './number-format.ts';

const NS = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
const REL = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

interface Made {
  /** The rows inside `sheetData`. */
  data: string;
  /** What stands before and behind it. */
  before?: string;
  behind?: string;
  /** Codes of number formats; the first is style 1. */
  formats?: string[];
  texts?: string[];
  date1904?: boolean;
  relations?: string;
  parts?: Record<string, string>;
}

/** A workbook written by hand, for what no program here writes. */
function made({
  data,
  before = '',
  behind = '',
  formats = [],
  texts = [],
  date1904,
  relations = '',
  parts = {},
}: Made): Uint8Array {
  const xml = (text: string): Uint8Array => strToU8(`<?xml version="1.0" encoding="UTF-8"?>${text}`);
  const escape = (s: string): string => s.replace(/&/g, '&amp;').replace(/"/g, '&quot;').replace(/</g, '&lt;');
  return zipSync({
    '_rels/.rels': xml(
      `<Relationships><Relationship Id="r1" Type="${REL}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    ),
    'xl/workbook.xml': xml(
      `<workbook ${NS} xmlns:r="${REL}"><workbookPr${date1904 ? ' date1904="1"' : ''}/><sheets><sheet name="Stores" sheetId="1" r:id="r1"/></sheets></workbook>`,
    ),
    'xl/_rels/workbook.xml.rels': xml(
      `<Relationships><Relationship Id="r1" Type="${REL}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="r2" Type="${REL}/styles" Target="styles.xml"/><Relationship Id="r3" Type="${REL}/sharedStrings" Target="/xl/sharedStrings.xml"/></Relationships>`,
    ),
    'xl/styles.xml': xml(
      `<styleSheet ${NS}><numFmts>${formats.map((f, i) => `<numFmt numFmtId="${164 + i}" formatCode="${escape(f)}"/>`).join('')}</numFmts><cellXfs><xf numFmtId="0"/>${formats.map((_, i) => `<xf numFmtId="${164 + i}"/>`).join('')}<xf numFmtId="14"/></cellXfs></styleSheet>`,
    ),
    'xl/sharedStrings.xml': xml(`<sst ${NS}>${texts.map((t) => `<si>${t}</si>`).join('')}</sst>`),
    'xl/worksheets/sheet1.xml': xml(
      `<worksheet ${NS} xmlns:r="${REL}">${before}<sheetData>${data}</sheetData>${behind}</worksheet>`,
    ),
    'xl/worksheets/_rels/sheet1.xml.rels': xml(`<Relationships>${relations}</Relationships>`),
    ...Object.fromEntries(Object.entries(parts).map(([path, text]) => [path, xml(text)])),
  });
}
const read = (m: Made): Promise<Sheet[]> => readSheets('stores.xlsx', made(m));
const text = (ref: string, words: string): string => `<c r="${ref}" t="inlineStr"><is><t>${words}</t></is></c>`;
const row = (n: number, ...cells: string[]): string => `<row r="${n}">${cells.join('')}</row>`;
const head = (...names: string[]): string => row(1, ...names.map((n, i) => text(`${'ABCDEFGH'[i]}1`, n)));

describe('values of a workbook', () => {
  it('are what was worked out, noughts and no among them; errors and missing results are said', async () => {
    const [sheet] = await read({
      data:
        head('Zero', 'No', 'Text', 'Error', 'Missing') +
        row(
          2,
          '<c r="A2"><f>1-1</f><v>0</v></c>',
          '<c r="B2" t="b"><f>1=2</f><v>0</v></c>',
          '<c r="C2" t="str"><f>"a"</f><v>a_x000D_b</v></c>',
          '<c r="D2" t="e"><f>1/0</f><v>#DIV/0!</v></c>',
          '<c r="E2"><f>NOW()</f></c>',
        ),
    });
    expect(sheet!.rows[1]).toEqual(['0', 'no', 'a\rb']);
    expect(sheet!.odd).toEqual([
      { line: 2, reason: 'D2 holds the error #DIV/0!; it is left empty.' },
      { line: 2, reason: expect.stringContaining('E2 holds a formula without a kept result') as string },
    ]);
  });
  it('have what their format says: times, durations, codes, money, units, shares; in both systems of dates', async () => {
    const formats = [
      'h:mm',
      '[h]:mm',
      '00000',
      '[$CHF] #,##0.00',
      '0.0" kg"',
      '0.0%',
      'dd/mm/yyyy hh:mm',
      '"€"#,##0.00;[Red]-"€"#,##0.00',
    ];
    const cell = (c: string, style: number, v: number): string => `<c r="${c}2" s="${style}"><v>${v}</v></c>`;
    const data =
      row(1, ...'ABCDEFGH'.split('').map((c) => text(`${c}1`, `Column ${c}`))) +
      row(
        2,
        cell('A', 1, 0.375),
        cell('B', 2, 1.0625),
        cell('C', 3, 1234),
        cell('D', 4, 4),
        cell('E', 5, 12.25),
        cell('F', 6, 0.075),
        cell('G', 7, 46349.5),
        cell('H', 8, -3),
      );
    const [sheet] = await read({ data, formats });
    expect(sheet!.rows[1]).toEqual([
      '09:00:00',
      '25:30:00',
      '01234',
      '4 CHF',
      '12.25 kg',
      '7.5%',
      '2026-11-23T12:00:00',
      '-3 €',
    ]);
    const [old] = await read({ data: data.replace('46349.5', String(46349.5 - 1462)), formats, date1904: true });
    expect(old!.rows[1]![6]).toBe('2026-11-23T12:00:00');
    const draft = draftTable(sheet!);
    expect(draft.columns.map((c) => [c.type, c.unit?.text])).toEqual([
      ['time', undefined],
      ['duration', undefined],
      ['text', undefined],
      ['money', 'CHF'],
      ['number', 'kg'],
      ['percent', undefined],
      ['datetime', undefined],
      ['money', '€'],
    ]);
    expect(readRows(draft).rows[0]).toEqual([
      '09:00:00',
      'P1DT1H30M',
      '01234',
      4,
      12.25,
      0.075,
      '2026-11-23T12:00:00',
      -3,
    ]);
  });
  it('keep all digits of a number, and need no exponent (property)', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (n) => {
        const shown = numberText(n, { is: 'plain' }, 0)!;
        expect(shown).not.toMatch(/e/i);
        expect(Number(shown)).toBe(n === 0 ? 0 : n);
      }),
    );
    expect([exactNumber(1e21), exactNumber(1.5e-9)]).toEqual(['1000000000000000000000', '0.0000000015']);
  });
  it.each([
    ['General', 'plain'],
    ['#,##0', 'plain'],
    ['yyyy-mm-dd', 'date'],
    ['mmm yy', 'date'],
    ['[$-409]h:mm AM/PM', 'time'],
    ['mm:ss', 'time'],
    ['[mm]:ss', 'duration'],
    ['"day" d', 'date'],
    ['0.00E+00', 'plain'],
    ['_-* #,##0.00 €_-', 'money'],
    ['#,##0 "pcs"', 'unit'],
    ['0\\ \\k\\g', 'unit'],
    ['@', 'text'],
  ])('the format %s is of a %s', (code, is) => {
    expect(readFormat(code).is).toBe(is);
  });
  it('come from shared texts without their readings, in any namespace', async () => {
    const [sheet] = await read({
      data:
        row(1, '<c r="A1" t="s"><v>0</v></c>', '<c r="B1" t="s"><v>1</v></c>') +
        row(2, '<c r="A2"><v>1</v></c>', '<c r="B2" t="s"><v>9</v></c>'),
      texts: [
        '<t>Name</t>',
        '<r><t>Sto</t></r><r><t xml:space="preserve">re </t></r><rPh sb="0" eb="1"><t>x</t></rPh>',
      ],
    });
    expect(sheet!.rows[0]).toEqual(['Name', 'Store ']);
    expect(sheet!.odd).toEqual([{ line: 2, reason: 'B2 names a text that the file does not have.' }]);
  });
});

describe('what stands beside the values', () => {
  it('hidden rows and columns are left out until they are asked for, and said', async () => {
    const [sheet] = await read({
      before: '<cols><col min="2" max="2" hidden="1"/></cols>',
      data:
        head('Name', 'Wage') +
        row(2, text('A2', 'Odile'), '<c r="B2"><v>30</v></c>') +
        `<row r="3" hidden="1">${text('A3', 'Ansel')}</row>`,
    });
    const draft = draftTable(sheet!);
    expect(draft.notes.join()).toContain('Wage is hidden in the file and left out');
    expect(readRows(draft).rows).toEqual([['Odile']]);
    draft.bringHidden = true;
    draft.columns[1]!.skip = false;
    expect(readRows(draft).rows).toEqual([
      ['Odile', 30],
      ['Ansel', null],
    ]);
  });
  it('links have a column of their own, unless they are the text', async () => {
    const [sheet] = await read({
      data:
        head('Shop', 'Site') +
        row(2, text('A2', 'Bramble'), text('B2', 'honey.example')) +
        row(3, text('A3', 'Clover')),
      behind: `<hyperlinks><hyperlink ref="A2" r:id="l1"/><hyperlink ref="B2" r:id="l2"/></hyperlinks>`,
      relations: `<Relationship Id="l1" Type="${REL}/hyperlink" Target="https://bramble.example/shop" TargetMode="External"/><Relationship Id="l2" Type="${REL}/hyperlink" Target="http://honey.example/" TargetMode="External"/>`,
    });
    const draft = draftTable(sheet!);
    expect(draft.columns.map((c) => [c.name, c.type])).toEqual([
      ['Shop', 'text'],
      ['Site', 'text'],
      ['Shop address', 'web'],
    ]);
    expect(readRows(draft).rows).toEqual([
      ['Bramble', 'honey.example', 'https://bramble.example/shop'],
      ['Clover', null, null],
    ]);
  });
  it('cells under merged ones are offered to be filled; comments and hidden sheets are said', async () => {
    const [sheet] = await read({
      data:
        head('Region', 'Store') +
        row(2, text('A2', 'North'), text('B2', 'Hill')) +
        row(3, '<c r="A3"/>', text('B3', 'Dale')) +
        row(4, text('A4', 'South'), text('B4', 'Quay')),
      behind: '<mergeCells><mergeCell ref="A2:A3"/></mergeCells>',
      relations: `<Relationship Id="c1" Type="${REL}/comments" Target="../comments1.xml"/>`,
      parts: {
        'xl/comments1.xml': `<comments ${NS}><commentList><comment ref="B4"><text><r><t>closes in </t></r><r><t>May</t></r></text></comment></commentList></comments>`,
      },
    });
    const draft = draftTable(sheet!);
    expect(readRows(draft).rows[1]).toEqual([null, 'Dale']);
    draft.fillDown = true;
    expect(readRows(draft).rows).toEqual([
      ['North', 'Hill'],
      ['North', 'Dale'],
      ['South', 'Quay'],
    ]);
    expect(sheet!.odd).toEqual([{ line: 4, reason: 'B4 has a comment, which is not taken over: “closes in May”' }]);
  });
  it('tables that the book names are each one, without their totals; what stands outside is said', async () => {
    const table = (id: number, name: string, ref: string, totals = 0): string =>
      `<table ${NS} id="${id}" displayName="${name}" ref="${ref}" totalsRowCount="${totals}"/>`;
    const sheets = await read({
      data:
        row(1, text('A1', 'Stores of 2026')) +
        row(3, text('A3', 'Good'), text('B3', 'Pieces'), text('D3', 'Keeper'), text('E3', 'Since')) +
        row(4, text('A4', 'Jar'), '<c r="B4"><v>4</v></c>', text('D4', 'Odile'), '<c r="E4"><v>2019</v></c>') +
        row(5, text('A5', 'Lid'), '<c r="B5"><v>6</v></c>', text('D5', 'Ansel'), '<c r="E5"><v>2021</v></c>') +
        row(6, text('A6', 'Total'), '<c r="B6"><v>10</v></c>'),
      relations: `<Relationship Id="t1" Type="${REL}/table" Target="../tables/table1.xml"/><Relationship Id="t2" Type="${REL}/table" Target="../tables/table2.xml"/>`,
      parts: {
        'xl/tables/table1.xml': table(1, 'Goods', 'A3:B6', 1),
        'xl/tables/table2.xml': table(2, 'Keepers', 'D3:E5'),
      },
    });
    expect(sheets.map((s) => [s.name, readRows(draftTable(s)).rows])).toEqual([
      [
        'Goods',
        [
          ['Jar', 4],
          ['Lid', 6],
        ],
      ],
      [
        'Keepers',
        [
          ['Odile', 2019],
          ['Ansel', 2021],
        ],
      ],
    ]);
    expect(sheets[0]!.notes.join()).toContain('totals');
    expect(sheets[1]!.notes.join()).toContain('A1 “Stores of 2026”');
  });
  it('tables beside and below one another are told apart by what keeps them apart', async () => {
    const sheets = await read({
      data:
        row(1, text('A1', 'Good'), text('B1', 'Pieces'), text('D1', 'Keeper'), text('E1', 'Age')) +
        row(2, text('A2', 'Jar'), '<c r="B2"><v>4</v></c>', text('D2', 'Odile'), '<c r="E2"><v>41</v></c>') +
        row(3, text('A3', 'Lid'), '<c r="B3"><v>6</v></c>', text('D3', 'Ansel'), '<c r="E3"><v>38</v></c>') +
        row(6, text('A6', 'Store'), text('B6', 'Shelves')) +
        row(7, text('A7', 'Barn'), '<c r="B7"><v>12</v></c>'),
    });
    expect(sheets.map((s) => [s.name, s.rows.length])).toEqual([
      ['Stores', 3],
      ['Stores 2', 2],
      ['Stores 3', 3],
    ]);
    const one = await read({
      data:
        head('Good', 'Pieces') +
        row(2, text('A2', 'Jar'), '<c r="B2"><v>4</v></c>') +
        row(5, text('A5', 'Lid'), '<c r="B5"><v>6</v></c>'),
    });
    expect(one.map((s) => s.rows.length)).toEqual([3]);
  });
});

it('numbers as such say nothing of how texts are written: 1.200 beside 1.5 is asked', async () => {
  const rows = Array.from(
    { length: 4 },
    (_, i) =>
      `<row r="${i + 2}"><c r="A${i + 2}"><v>1.5</v></c><c r="B${i + 2}" t="inlineStr"><is><t>1.20${i}</t></is></c></row>`,
  );
  const head =
    '<row r="1"><c r="A1" t="inlineStr"><is><t>Fed</t></is></c><c r="B1" t="inlineStr"><is><t>Worth</t></is></c></row>';
  const [sheet] = await readSheets('stores.xlsx', made({ data: head + rows.join('') }));
  const draft = draftTable(sheet!);
  expect(draft.columns.map((c) => [c.type, c.ambiguousDecimal])).toEqual([
    ['number', false],
    ['number', true],
  ]);
});
