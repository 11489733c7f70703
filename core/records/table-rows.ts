import type { Field } from '../tables/schema.ts';
import type { Compiled } from '../formula/compile.ts';
import type { Frame } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { listCell, type Cell } from '../fields/lists.ts';
import { readCell } from './cells.ts';
import { isSeveral, SELF_SLOT, type LinkEnd, type RecordsRuntime, type TableModel } from './model.ts';
import type { MayHere } from './may-here.ts';
import { OrderedRows } from './ordered-rows.ts';
import { isFormer } from './former.ts';
import { DIRTY, Row } from './row.ts';

/** What a cell is found by: a link to several records is found by each of them. */
const keysOf = (field: Field | undefined, cell: Cell | undefined): (string | null)[] =>
  field && isSeveral(field) ? [...new Set(listCell(cell).map(linkKey))] : [linkKey(cell)];

/** Values that count as equal for a matched link: without case and spaces around them. */
export const linkKey = (cell: Cell | undefined): string | null =>
  cell === null || cell === undefined || cell === '' ? null : String(cell).trim().toLowerCase();

/** A formula field ready to be worked out for each record. */
interface WorkedOut {
  slot: number;
  compiled: Compiled;
  frame: Frame;
  busy: boolean;
  /** Some record may have its value worked out. */
  isKnown: boolean;
}

type Index = Map<string, OrderedRows>;

/** What a table asks of all the records. */
export interface TableHome {
  readonly runtime: RecordsRuntime;
  readonly linksAt: number;
  followAll(row: Row, end: LinkEnd): Row[];
  readonly may: MayHere | null;
  readonly personRecord: { table: string; record: string } | null;
}

/** The records of one table, in the order they came. */
export class TableRows<Home extends TableHome> {
  private readonly ordered = new OrderedRows();
  readonly byId = new Map<string, Row>();
  formulas: WorkedOut[] = [];
  /** How many records have come so far. */
  came = 0;
  private readonly indexes = new Map<string, Index>();

  constructor(
    readonly id: string,
    public model: TableModel,
    readonly records: Home,
  ) {}

  get rows(): readonly Row[] {
    return this.ordered.list;
  }

  add(row: Row): void {
    this.ordered.add(row);
    this.byId.set(row.id, row);
  }

  remove(row: Row): void {
    this.ordered.remove(row);
    this.byId.delete(row.id);
  }

  /** What a link to somebody leads to who was erased: a record of this table that is not in it, with a title alone. */
  former(id: Cell | undefined): Row | undefined {
    if (!isFormer(id)) return undefined;
    let row = this.formers.get(id);
    if (!row) {
      this.formers.set(id, (row = new Row(id, this, {}, Infinity)));
      const { table } = this.model;
      row.v = table.fields.map((f) => (f.id === table.titleField ? `a former ${table.one}` : null));
    }
    return row;
  }
  /** Those that were asked for since the table was arranged. */
  private readonly formers = new Map<string, Row>();

  /** The rows with a value of a stored field. */
  having(field: string, key: string): Row[] {
    return this.index(field).get(key)?.list ?? [];
  }

  /** Rows by the value of a stored field; made on first use and kept up to date from then on. */
  private index(field: string): Index {
    let index = this.indexes.get(field);
    if (!index) {
      index = new Map();
      const def = this.model.fields.get(field);
      for (const row of this.rows) for (const key of keysOf(def, row.cells[field])) enter(index, key, row);
      this.indexes.set(field, index);
    }
    return index;
  }

  reindex(row: Row, field: string, from: Cell | undefined, to: Cell | undefined): void {
    const index = this.indexes.get(field);
    if (!index) return;
    const def = this.model.fields.get(field);
    for (const key of keysOf(def, from)) leave(index, key, row);
    for (const key of keysOf(def, to)) enter(index, key, row);
  }

  indexRow(row: Row, present: boolean): void {
    for (const [field, index] of this.indexes)
      for (const key of keysOf(this.model.fields.get(field), row.cells[field]))
        (present ? enter : leave)(index, key, row);
  }

  /** Forgets what was made of how the table is arranged. */
  dropIndexes(): void {
    this.indexes.clear();
    this.formers.clear();
  }

  fill(row: Row): void {
    const fields = this.model.table.fields;
    const v = new Array<Value>(fields.length);
    for (let i = 0; i < fields.length; i++) {
      const f = fields[i]!;
      // What is hidden is nothing, also where an empty cell would be more, such as no.
      v[i] = row.hidden?.has(f.id) ? null : f.type === 'formula' ? DIRTY : readCell(f, row.cells[f.id]);
    }
    row.v = v;
  }

  /** Works a formula field out and keeps the value. */
  workOut(row: Row, slot: number): Value {
    const formula = this.formulas[slot];
    if (!formula || row.hidden?.has(this.model.table.fields[slot]!.id)) return null;
    const told = row.told?.[this.model.table.fields[slot]!.id];
    const { may } = this.records;
    if (told !== undefined && may) {
      formula.isKnown = true;
      return (row.v[slot] = may.told(told));
    }
    row.v[slot] = null; // what a formula sees of itself, should a circle slip through
    // A formula that reads the same formula of another record needs a frame of its own.
    const wasBusy = formula.busy;
    const frame = wasBusy ? new Array<Value>(formula.frame.length) : formula.frame;
    formula.busy = true;
    formula.isKnown = true;
    frame[0] = this.records.runtime as unknown as Value;
    frame[SELF_SLOT] = row;
    let value: Value = null;
    try {
      value = formula.compiled.run(frame);
    } catch {
      value = null; // only a runaway recursion gets here
    }
    formula.busy = wasBusy;
    row.v[slot] = value;
    return value;
  }
}

function enter(index: Index, key: string | null, row: Row): void {
  if (key === null) return;
  let rows = index.get(key);
  if (!rows) index.set(key, (rows = new OrderedRows()));
  rows.add(row);
}

function leave(index: Index, key: string | null, row: Row): void {
  if (key !== null) index.get(key)?.remove(row);
}
