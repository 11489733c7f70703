import { UnreadableError } from '../../../core/document/unreadable.ts';
import { defineFormat, endingOf, startsWith } from '../../../core/formats/format.ts';
import { tidyName } from '../../../core/formats/sheet.ts';

const BOOKS = ['.xlsx', '.xlsm', '.ods'];

/** Delimited text (RFC 4180 and its relatives): what it is not told by its bytes is taken for it, so it comes last. */
export const csv = defineFormat({
  id: 'csv',
  name: 'CSV',
  type: 'text/csv',
  endings: ['.csv', '.tsv', '.txt'],
  archived: true,
  isIn: () => true,
  async read(fileName, bytes) {
    refuseBinary(fileName, bytes);
    const notes = BOOKS.includes(endingOf(fileName))
      ? [`“${fileName}” is called a workbook but holds plain text; it was read as CSV.`]
      : [];
    const { decode, readCsv } = await import('./read.ts');
    const { text, note } = decode(bytes);
    if (note) notes.push(note);
    const base = fileName.replace(/\.[^.]*$/, '') || fileName;
    return [readCsv(tidyName(base), text, notes, `“${fileName}”`)];
  },
  async open(fileName, bytes) {
    if (BOOKS.includes(endingOf(fileName)))
      throw new UnreadableError(`“${fileName}” is no workbook, or only half of one.`);
    refuseBinary(fileName, bytes);
    const { DelimitedFile } = await import('./table-file.ts');
    const file = new DelimitedFile(fileName, bytes);
    if (file.sheets[0]!.rows.length === 0) throw new UnreadableError(`“${fileName}” has no rows.`);
    return file;
  },
  async write(table) {
    const { toCsv } = await import('./write.ts');
    return new TextEncoder().encode(toCsv(table));
  },
});

function refuseBinary(fileName: string, bytes: Uint8Array): void {
  const wide = startsWith(bytes, 0xff, 0xfe) || startsWith(bytes, 0xfe, 0xff);
  if (!wide && bytes.subarray(0, 4096).includes(0))
    throw new UnreadableError(`“${fileName}” is no text, not a table. Bring a CSV, XLSX or JSON file.`);
}
