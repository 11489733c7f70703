import { UnreadableError } from '../document/unreadable.ts';
import type { Stated } from './table-schema.ts';

/** A sheet as it came: every row as text, with the line (CSV) or row (XLSX) it stood in. */
export interface Sheet {
  name: string;
  rows: string[][];
  lines: number[];
  notes: string[];
  /** What of it is not taken over as it was, each with its line. */
  odd?: { line: number; reason: string }[];
  /** Rows and columns that are hidden in the file, by their places. */
  hidden?: { rows: number[]; columns: number[] };
  /** Cells that are empty because a cell above lies over them, with its text. */
  under?: { row: number; column: number; text: string }[];
  /** Columns of addresses that the texts of another column lead to. */
  links?: { column: number; of: number }[];
  /** Columns that hold numbers as such, not texts that read like some. */
  exact?: number[];
  /** Columns that are left out until they are asked for: what is in them stands in a table of its own. */
  aside?: number[];
  /** What the file itself tells of its columns. */
  stated?: (Stated | null)[];
}

export const MAX_FILE_BYTES = 50 * 1024 * 1024;
export const MAX_ROWS = 500_000;
export const MAX_COLUMNS = 2000;
/** Of one file; 100,000 rows of 200 columns are as many. */
export const MAX_CELLS = 21_000_000;

const figure = (n: number): string => n.toLocaleString('en-GB');

/** Counts the cells of a file while they are read, so that what is too much is refused before it fills the memory. */
export class CellCount {
  private cells = 0;
  private rows = 0;
  /** `what` names the file in words. */
  constructor(
    private readonly what: string,
    private readonly most = MAX_CELLS,
  ) {}

  /** A row more. Throws {@link UnreadableError}. */
  add(columns: number): void {
    if (columns > MAX_COLUMNS) this.tooWide(columns);
    if (++this.rows > MAX_ROWS)
      throw new UnreadableError(`${this.what} has more than ${figure(MAX_ROWS)} rows; no more are read. Divide it.`);
    this.cell(columns);
  }

  /** A cell more, or several. Throws {@link UnreadableError}. */
  cell(more = 1): void {
    if ((this.cells += more) > this.most)
      throw new UnreadableError(
        `${this.what} has more than ${figure(this.most)} cells; no more are read. Leave out columns that the app does not need.`,
      );
  }

  tooWide(columns: number): never {
    throw new UnreadableError(
      `${this.what} has a row of ${figure(columns)} cells or more; up to ${figure(MAX_COLUMNS)} columns are read. Is it a table?`,
    );
  }
}

/** The sheet, when it has rows and not too many of them. Throws {@link UnreadableError}; `what` names it in words. */
export function checkedSheet(sheet: Sheet, what: string): Sheet {
  if (sheet.rows.length === 0)
    throw new UnreadableError(`${what} has no rows. Choose a file with a header row and at least one row below it.`);
  if (sheet.rows.length > MAX_ROWS)
    throw new UnreadableError(
      `${what} has ${sheet.rows.length.toLocaleString('en-GB')} rows; up to ${MAX_ROWS.toLocaleString('en-GB')} are read.`,
    );
  return sheet;
}

/** "store_moves 2026" as "Store moves 2026". */
export function tidyName(base: string): string {
  const words = base.replace(/[_]+/g, ' ').replace(/\s+/g, ' ').trim().slice(0, 80);
  return words.charAt(0).toUpperCase() + words.slice(1) || 'Sheet';
}
