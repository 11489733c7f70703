import { UnreadableError } from '../document/unreadable.ts';
import type { Sheet } from '../formats/sheets.ts';
import { DelimitedFile } from './delimited.ts';
import { WorkbookFile } from './workbook.ts';

/** What is written to a cell of a file: its text, and the plain value where the file keeps values by type. */
export interface FileValue {
  text: string;
  /** A number, yes/no, or a date as days from 1899-12-30; absent for text. */
  number?: number;
  bool?: boolean;
  serial?: number;
  /** A duration in days. */
  days?: number;
}

/** One change of a file. Lines are counted from 1 as the file has them, columns from 0. */
export type FileEdit =
  | { do: 'cell'; line: number; column: number; value: FileValue }
  | { do: 'append'; cells: Map<number, FileValue> }
  | { do: 'remove'; line: number };

/** A file that holds tables and can be written cell by cell; whatever is not written stays as it was. */
export interface TableFile {
  readonly sheets: Sheet[];
  /** True for a cell that the file works out by itself. */
  isLocked(sheet: number, line: number, column: number): boolean;
  write(sheet: number, edits: readonly FileEdit[]): Promise<Uint8Array>;
}

/** Opens the bytes of a CSV or XLSX file. Throws {@link UnreadableError} for anything else, and for half a file. */
export async function openTableFile(name: string, bytes: Uint8Array): Promise<TableFile> {
  if (bytes.length === 0) throw new UnreadableError(`“${name}” is empty.`);
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return WorkbookFile.open(name, bytes);
  if (/\.xlsx$/i.test(name)) throw new UnreadableError(`“${name}” is no workbook, or only half of one.`);
  if (bytes.subarray(0, 4096).includes(0) && bytes[0] !== 0xff && bytes[0] !== 0xfe)
    throw new UnreadableError(`“${name}” holds no text.`);
  const file = new DelimitedFile(name, bytes);
  if (file.sheets[0]!.rows.length === 0) throw new UnreadableError(`“${name}” has no rows.`);
  return file;
}
