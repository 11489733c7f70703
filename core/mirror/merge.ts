import type { Cell } from '../fields/lists.ts';
import { align } from './align.ts';

/** A row on which file and app agreed last: whose record it is, its texts in the file and the cells they meant. */
export interface BaseRow {
  record: string;
  texts: string[];
  cells: Cell[];
}

/** A row of the file now. A cell is undefined when its text does not fit its field. */
export interface FileRow {
  texts: string[];
  cells: (Cell | undefined)[];
  /** Cells that the file works out by itself. */
  locked?: boolean[];
}

export interface AppRow {
  id: string;
  /** Cells in the order of the mirrored columns. */
  cells: Cell[];
}

export interface MergeInput {
  /** How many columns are mirrored. */
  width: number;
  /** Places of the columns that name a record. */
  keys: number[];
  /** What was agreed last; null the first time. */
  base: BaseRow[] | null;
  file: FileRow[];
  app: AppRow[];
  /** Whose value stands where both differ the first time. */
  first: 'file' | 'app';
  /** When the file was written, in milliseconds. */
  fileTime: number;
  /** When a cell of a record was last written in the app, in milliseconds. */
  appTime(record: string, place: number): number;
  /** The id of a new record, for the row at this place. */
  newId(row: number): string;
  /** Rows are the same where their keys are, and never else. */
  exact?: boolean;
  /** A cell as the file writes it. */
  textOf(cell: Cell, place: number): string;
}

/** Two edits of one thing since the last agreement, and which of them stands. */
export interface Conflict {
  record: string;
  /** Place of the column; null when a whole row was removed on one side and changed on the other. */
  place: number | null;
  file: Cell;
  app: Cell;
  kept: 'file' | 'app';
}

export type AppChange =
  | { do: 'set'; record: string; cells: Map<number, Cell> }
  | { do: 'remove'; record: string }
  /** With what both sides had before: the app keeps nothing of what is removed. */
  | { do: 'restore'; record: string; cells: Map<number, Cell> };
export type RowEdit =
  | { do: 'cell'; row: number; place: number; cell: Cell }
  | { do: 'append'; record: string; cells: Cell[] }
  | { do: 'remove'; row: number };

export interface MergeResult {
  changes: AppChange[];
  edits: RowEdit[];
  conflicts: Conflict[];
  /** Texts that do not fit their field: they stay in the file, and the app keeps what it has. */
  misfits: { row: number; place: number }[];
  /** What is agreed when the edits have been written, and what is agreed already if they cannot be. */
  written: BaseRow[];
  unwritten: BaseRow[];
}

/**
 * Brings a file and a table in step: what changed on one side since the last agreement goes to the other. Where one
 * cell changed on both, the later edit stands; a row that was removed on one side and changed on the other stays.
 */
export function merge(input: MergeInput): MergeResult {
  return new Merging(input).run();
}

class Merging {
  private readonly out: MergeResult = {
    changes: [],
    edits: [],
    conflicts: [],
    misfits: [],
    written: [],
    unwritten: [],
  };
  private readonly app: Map<string, AppRow>;

  constructor(private readonly input: MergeInput) {
    this.app = new Map(input.app.map((r) => [r.id, r]));
  }

  run(): MergeResult {
    const { base, file } = this.input;
    const before: BaseRow[] = base ?? this.firstBase();
    const found = align(
      before.map((r) => r.texts),
      file.map((r) => r.texts),
      this.input.keys,
      this.input.exact,
    );
    const seen = new Set<string>();
    file.forEach((row, i) => {
      const old = before[found[i]!];
      // A line of only other people's columns is no record; one that was a record has been emptied.
      if (!old && row.texts.every((t) => t.trim() === '')) return;
      if (!old) return this.added(row, i);
      if (row.texts.every((t) => t.trim() === '')) return this.goneFromFile(old, i, seen);
      seen.add(old.record);
      this.row(old, row, i, base === null);
    });
    const there = new Set(found);
    before.forEach((old, i) => {
      if (!there.has(i) && !seen.has(old.record)) this.goneFromFile(old, null, seen);
    });
    for (const r of this.input.app)
      if (!seen.has(r.id)) this.out.edits.push({ do: 'append', record: r.id, cells: r.cells });
    for (const e of this.out.edits)
      if (e.do === 'append')
        this.out.written.push({ record: e.record, texts: e.cells.map(this.input.textOf), cells: [...e.cells] });
    return this.out;
  }

  /** The first time, records of the app stand for what was agreed, so that rows are matched with them. */
  private firstBase(): BaseRow[] {
    return this.input.app.map((r) => ({ record: r.id, texts: r.cells.map(this.input.textOf), cells: [...r.cells] }));
  }

  private added(row: FileRow, at: number): void {
    const record = this.input.newId(at);
    const cells = new Map<number, Cell>();
    row.cells.forEach((cell, place) => {
      if (cell === undefined) this.out.misfits.push({ row: at, place });
      else if (cell !== null) cells.set(place, cell);
    });
    if (cells.size === 0) return;
    this.out.changes.push({ do: 'set', record, cells });
    this.agree({ record, texts: [...row.texts], cells: row.cells.map((c) => c ?? null) });
  }

  private agree(row: BaseRow): void {
    this.out.written.push(row);
    this.out.unwritten.push({ record: row.record, texts: [...row.texts], cells: [...row.cells] });
  }

  private row(old: BaseRow, row: FileRow, at: number, first: boolean): void {
    const app = this.app.get(old.record);
    const written: BaseRow = { record: old.record, texts: [...row.texts], cells: [...old.cells] };
    const unwritten: BaseRow = { record: old.record, texts: [...row.texts], cells: [...old.cells] };
    const set = new Map<number, Cell>();
    for (let p = 0; p < this.input.width; p++) {
      const read = row.cells[p];
      const agreed = old.cells[p] ?? null;
      const misfit = read === undefined;
      if (misfit) this.out.misfits.push({ row: at, place: p });
      const inFile = misfit || (!first && row.texts[p] === old.texts[p]) ? agreed : read;
      const inApp = app ? (app.cells[p] ?? null) : agreed;
      const fileChanged = first ? inFile !== inApp : inFile !== agreed;
      const appChanged = first ? inFile !== inApp : inApp !== agreed;
      let kept = inApp;
      if (fileChanged && appChanged && inFile !== inApp) {
        const file = this.fileWins(old.record, p, inFile, inApp, first, row.locked?.[p] ?? false);
        if (!first)
          this.out.conflicts.push({
            record: old.record,
            place: p,
            file: inFile,
            app: inApp,
            kept: file ? 'file' : 'app',
          });
        kept = file ? inFile : inApp;
      } else if (fileChanged) kept = inFile;
      else if (appChanged && row.locked?.[p]) {
        this.out.conflicts.push({ record: old.record, place: p, file: inFile, app: inApp, kept: 'file' });
        kept = inFile;
      }
      if (kept !== inApp) set.set(p, kept);
      written.cells[p] = kept;
      unwritten.cells[p] = kept === inApp && kept !== inFile ? agreed : kept;
      // A text that does not fit stays as it is until someone writes the cell.
      if (kept !== inFile && app) {
        this.out.edits.push({ do: 'cell', row: at, place: p, cell: kept });
        unwritten.texts[p] = old.texts[p] ?? '';
        written.texts[p] = this.input.textOf(kept, p);
      }
    }
    if (!app && !first) return this.goneFromApp(old, row, at, set, written);
    if (set.size) this.out.changes.push({ do: 'set', record: old.record, cells: set });
    this.out.written.push(written);
    this.out.unwritten.push(unwritten);
  }

  private fileWins(record: string, p: number, file: Cell, app: Cell, first: boolean, locked: boolean): boolean {
    if (locked) return true;
    if (first)
      return app === null || app === '' ? true : file === null || file === '' ? false : this.input.first === 'file';
    return this.input.fileTime >= this.input.appTime(record, p);
  }

  /** The record was removed in the app. If its row was changed in the file, it comes back; otherwise the row goes. */
  private goneFromApp(old: BaseRow, row: FileRow, at: number, set: Map<number, Cell>, written: BaseRow): void {
    if (set.size === 0) {
      this.out.edits.push({ do: 'remove', row: at });
      this.out.unwritten.push({ ...old, texts: [...row.texts] });
      return;
    }
    this.out.changes.push(
      { do: 'restore', record: old.record, cells: new Map(old.cells.entries()) },
      { do: 'set', record: old.record, cells: set },
    );
    this.out.conflicts.push({ record: old.record, place: null, file: null, app: null, kept: 'file' });
    this.agree(written);
  }

  /** The row was removed from the file. If its record was changed in the app, it is written again. */
  private goneFromFile(old: BaseRow, row: number | null, seen: Set<string>): void {
    seen.add(old.record);
    const app = this.app.get(old.record);
    if (!app) return;
    const changed = this.input.base === null || app.cells.some((c, p) => (c ?? null) !== (old.cells[p] ?? null));
    if (!changed) {
      this.out.changes.push({ do: 'remove', record: old.record });
      return;
    }
    if (this.input.base !== null)
      this.out.conflicts.push({ record: old.record, place: null, file: null, app: null, kept: 'app' });
    if (row === null) {
      this.out.edits.push({ do: 'append', record: old.record, cells: app.cells });
      return;
    }
    app.cells.forEach((cell, place) => {
      if (cell !== null) this.out.edits.push({ do: 'cell', row, place, cell });
    });
    this.out.written.push({ record: old.record, texts: app.cells.map(this.input.textOf), cells: [...app.cells] });
  }
}
