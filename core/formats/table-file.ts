import type { FileValue } from '../fields/file-cell.ts';
import type { Sheet } from './sheet.ts';

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
