import { Unzip, UnzipInflate, UnzipPassThrough, unzipSync } from 'fflate';
import { UnreadableError } from '../../../core/document/unreadable.ts';
import { CellCount } from '../../../core/formats/sheet.ts';

/** What a workbook may hold unpacked, in bytes. */
const MAX_UNPACKED = 300 * 1024 * 1024;
const MAX_PARTS = 5000;
/** Cells of all sheets; a workbook takes far more memory for each than a CSV file. */
const MAX_BOOK_CELLS = 3_000_000;
const MAX_MERGES = 20_000;
const MAX_MERGED_CELLS = 1_000_000;
/** The largest sheet there can be (ECMA-376, 18.3.1.73). */
const LAST_ROW = 1_048_576;
const LAST_COLUMN = 16_384;
/** Bytes that are unpacked at once. */
const STEP = 64 * 1024;
/** No tag that is looked for is longer. */
const TAG = 400;

const SHEET = /^xl\/worksheets\/[^/]+\.xml$/;

/**
 * Looks through a workbook before anything else reads it, unpacking it piece by piece and keeping none of it: a few
 * bytes can unpack to any size, name a row that no sheet has, or merge cells without end. Throws
 * {@link UnreadableError}; `what` names the file in words.
 */
export function guardWorkbook(what: string, bytes: Uint8Array, most = MAX_UNPACKED): void {
  const tooLarge = new UnreadableError(
    `${what} unpacks to more than ${Math.round(most / 1_048_576)} MB. Save the sheets that the app needs as CSV and bring those.`,
  );
  // What it says of itself is known at once; what it does not say is counted.
  let said = 0;
  try {
    unzipSync(bytes, { filter: (f) => ((said += f.originalSize), false) });
  } catch {
    // The pieces below tell what is wrong.
  }
  if (said > most) throw tooLarge;
  let unpacked = 0;
  let parts = 0;
  const contents = new Contents(what);
  const unzip = new Unzip((file) => {
    if (++parts > MAX_PARTS) throw new UnreadableError(`${what} has more than ${MAX_PARTS} parts; it is no workbook.`);
    const sheet = SHEET.test(file.name) ? contents.sheet() : null;
    file.ondata = (error, chunk, final) => {
      if (error) throw error;
      unpacked += chunk.length;
      if (unpacked > most) throw tooLarge;
      sheet?.take(chunk, final);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  unzip.register(UnzipPassThrough);
  try {
    for (let at = 0; at < bytes.length; at += STEP)
      unzip.push(bytes.subarray(at, at + STEP), at + STEP >= bytes.length);
  } catch (e) {
    if (e instanceof UnreadableError) throw e;
    throw new UnreadableError(
      `${what} is not a workbook that can be read: it may be damaged or hold something else. Open it in a spreadsheet program and save it again as .xlsx.`,
    );
  }
}

/** Counts what the sheets of a workbook hold. */
class Contents {
  private readonly cells: CellCount;
  private merges = 0;
  private merged = 0;

  constructor(private readonly what: string) {
    this.cells = new CellCount(what, MAX_BOOK_CELLS);
  }

  sheet() {
    let rest = '';
    return {
      take: (chunk: Uint8Array, final: boolean): void => {
        let text = rest;
        for (let i = 0; i < chunk.length; i += 8192)
          text += String.fromCharCode(...chunk.subarray(i, Math.min(chunk.length, i + 8192)));
        // A tag that is cut off here is read with the next piece.
        const cut = final ? text.length : Math.max(text.lastIndexOf('<'), text.length - TAG, 0);
        this.look(text.slice(0, cut));
        rest = text.slice(cut);
      },
    };
  }

  private look(xml: string): void {
    for (const [, tag, attributes] of xml.matchAll(/<(row|c|mergeCell)\b([^>]*)/g)) {
      if (tag === 'mergeCell') this.merge(attributes!);
      else if (tag === 'c') {
        this.cells.cell();
        const ref = /\br="([A-Za-z]+)(\d+)"/.exec(attributes!);
        if (ref) this.place(Number(ref[2]), columnOf(ref[1]!));
      } else {
        const row = /\br="(\d+)"/.exec(attributes!);
        if (row) this.place(Number(row[1]), 1);
      }
    }
  }

  private place(row: number, column: number): void {
    if (row > LAST_ROW || column > LAST_COLUMN || row < 1)
      throw new UnreadableError(
        `${this.what} is damaged: it names a cell in row ${row.toLocaleString('en-GB')}, which no sheet has. Open it in a spreadsheet program and save it again.`,
      );
  }

  private merge(attributes: string): void {
    const ref = /\bref="([A-Za-z]+)(\d+):([A-Za-z]+)(\d+)"/.exec(attributes);
    if (!ref) return;
    const [rows, columns] = [Number(ref[4]) - Number(ref[2]) + 1, columnOf(ref[3]!) - columnOf(ref[1]!) + 1];
    this.merged += Math.abs(rows * columns);
    if (++this.merges > MAX_MERGES || this.merged > MAX_MERGED_CELLS)
      throw new UnreadableError(
        `${this.what} has more merged cells than can be read: up to ${MAX_MERGES.toLocaleString('en-GB')} that lie over ${MAX_MERGED_CELLS.toLocaleString('en-GB')} cells. Take them apart in a spreadsheet program, then bring it again.`,
      );
  }
}

/** "BC" is column 55, counted from 1. */
const columnOf = (letters: string): number =>
  Array.from(letters.toUpperCase().slice(0, 6)).reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0);
