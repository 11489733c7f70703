import { strToU8, zipSync, type Zippable } from 'fflate';
import { describe, expect, it } from 'vitest';
import { guardWorkbook } from './guard.ts';
import { openTableFile, readSheets } from '../../../core/formats/read.ts';

/** Workbooks of a few bytes that would fill the memory or never be read to their end. */

const NS = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
/** A workbook with one sheet of this XML. */
function book(inside: string, more: Zippable = {}): Uint8Array {
  return zipSync({
    '[Content_Types].xml': strToU8(
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>',
    ),
    'xl/workbook.xml': strToU8(
      `<workbook ${NS} xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="One" sheetId="1" r:id="r1"/></sheets></workbook>`,
    ),
    'xl/_rels/workbook.xml.rels': strToU8(
      '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
    ),
    'xl/worksheets/sheet1.xml': strToU8(`<worksheet ${NS}>${inside}</worksheet>`),
    ...more,
  });
}
const cell = (ref: string, text: string): string => `<c r="${ref}" t="inlineStr"><is><t>${text}</t></is></c>`;
const rows = (more = ''): string =>
  `<sheetData><row r="1">${cell('A1', 'Name')}${cell('B1', 'Tag')}</row><row r="2">${cell('A2', 'Bramble')}${cell('B2', 'HB-1')}</row>${more}</sheetData>`;
const merges = (refs: string[]): string =>
  `<mergeCells>${refs.map((r) => `<mergeCell ref="${r}"/>`).join('')}</mergeCells>`;

describe('a workbook', () => {
  it('of an ordinary kind is read', async () => {
    const [sheet] = await readSheets('book.xlsx', book(rows() + merges(['C1:D1'])));
    expect(sheet!.rows.map((r) => r.slice(0, 2))).toEqual([
      ['Name', 'Tag'],
      ['Bramble', 'HB-1'],
    ]);
  });
  it.each<[string, () => Uint8Array, RegExp]>([
    [
      'a row that no sheet has',
      () => book(rows(`<row r="4000000000">${cell('A4000000000', 'x')}</row>`)),
      /row 4,000,000,000, which no sheet has/,
    ],
    ['a cell in such a row alone', () => book(rows(`<row>${cell('A99999999', 'x')}</row>`)), /row 99,999,999/],
    ['a column that no sheet has', () => book(rows(`<row r="3">${cell('ZZZZ3', 'x')}</row>`)), /which no sheet has/],
    [
      'cells merged over the whole sheet',
      () => book(rows() + merges(['A1:XFD1048576'])),
      /more merged cells than can be read/,
    ],
    [
      '60,000 merged cells',
      () => book(rows() + merges(Array.from({ length: 60_000 }, (_, i) => `A${i + 1}:B${i + 1}`))),
      /more merged cells/,
    ],
    [
      'more cells than are read',
      () => book(`<sheetData><row r="1">${'<c/>'.repeat(3_000_001)}</row></sheetData>`),
      /more than 3,000,000 cells/,
    ],
    [
      'parts without number',
      () => book(rows(), Object.fromEntries(Array.from({ length: 5001 }, (_, i) => [`x/${i}`, new Uint8Array()]))),
      /more than 5000 parts/,
    ],
    ['half of itself', () => book(rows()).slice(0, 700), /not a workbook that can be read/],
  ])('with %s is refused in words, mirrored or brought', async (_, make, words) => {
    const bytes = make();
    await expect(readSheets('book.xlsx', bytes)).rejects.toThrow(words);
    await expect(openTableFile('book.xlsx', bytes)).rejects.toThrow(words);
  });
  it('that says how much it unpacks to is refused for that at once', () => {
    const bytes = book(rows(), { 'xl/media/big.bin': new Uint8Array(3 << 20) });
    expect(() => guardWorkbook('“book.xlsx”', bytes, 2 << 20)).toThrow('unpacks to more than 2 MB');
  });
  it('that says less of itself than it holds is counted', () => {
    const bytes = book(rows(), { 'xl/media/big.bin': new Uint8Array(3 << 20) });
    const view = new DataView(bytes.buffer);
    for (let i = 0; i + 4 <= bytes.length; i++) if (view.getUint32(i, true) === 3 << 20) view.setUint32(i, 10, true);
    expect(() => guardWorkbook('“book.xlsx”', bytes, 2 << 20)).toThrow('unpacks to more than 2 MB');
    expect(() => guardWorkbook('“book.xlsx”', bytes, 4 << 20)).not.toThrow();
  });
  it('is looked through to its end wherever its pieces fall', async () => {
    // Tags lie over the places at which it is unpacked.
    for (const pad of [65_400, 65_480, 65_530, 131_000])
      await expect(
        readSheets('book.xlsx', book(`<!--${'x'.repeat(pad)}-->${rows(`<row r="4000000000"/>`)}`)),
      ).rejects.toThrow('which no sheet has');
  });
});
