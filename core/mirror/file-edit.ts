import type { Sheet } from '../formats/sheets.ts';

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
