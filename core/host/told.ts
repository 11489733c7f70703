import { keptValue, type KeptValue } from '../records/kept-value.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { Touched } from '../records/touched.ts';

export type ToldValues = Readonly<Record<string, KeptValue>>;

/**
 * The values of formula fields that people see who do not see all that these are worked out from: they are worked out
 * here, on all records, and are the same for everybody. It keeps what was told, so that it can say what is another now.
 */
export class Told {
  private readonly values = new Map<string, ToldValues>();
  private readonly touched: Touched;
  private fields: ReadonlyMap<string, readonly string[]> = new Map();

  constructor(private readonly records: Records) {
    this.touched = new Touched(records);
  }

  /** From now on these fields are told, by table. */
  setFields(fields: ReadonlyMap<string, readonly string[]>): void {
    if (fields === this.fields) return;
    this.fields = fields;
    this.values.clear();
    this.touched.watch(
      [...fields].map(([table, list]) => ({
        table,
        reads: list.map((field) => ({ table, field, origin: { from: 'self' as const, hops: [] } })),
        volatile: false,
      })),
    );
    this.touched.take();
  }

  /** What is told of a record; null where nothing is. */
  of(table: string, id: string): ToldValues | null {
    const fields = this.fields.get(table);
    if (!fields) return null;
    const known = this.values.get(id);
    if (known) return known;
    const row = this.records.row(table, id);
    if (!row) return null;
    const values = workedOut(row, fields);
    this.values.set(id, values);
    return values;
  }

  /** The fields, by record, of which something else was told until now; they are told as they are from here on. */
  changed(): Map<string, string[]> {
    const changed = new Map<string, string[]>();
    if (this.fields.size === 0 || this.touched.isEmpty) return changed;
    const ids = this.touched.take() ?? [...this.values.keys()];
    for (const id of ids) {
      const before = this.values.get(id);
      if (!before) continue;
      const row = this.find(id);
      if (!row) {
        this.values.delete(id);
        continue;
      }
      const now = workedOut(row, this.fields.get(row.tableId)!);
      this.values.set(id, now);
      const others = Object.keys(now).filter((f) => JSON.stringify(now[f]) !== JSON.stringify(before[f]));
      if (others.length) changed.set(id, others);
    }
    return changed;
  }

  private find(id: string): Row | undefined {
    for (const table of this.fields.keys()) {
      const row = this.records.row(table, id);
      if (row) return row;
    }
    return undefined;
  }
}

function workedOut(row: Row, fields: readonly string[]): ToldValues {
  const values: Record<string, KeptValue> = {};
  for (const field of fields) {
    const slot = row.store.model.slots.get(field);
    if (slot === undefined) continue;
    try {
      values[field] = keptValue(row.read(slot));
    } catch {
      values[field] = null; // a value that is no data, such as a range
    }
  }
  return values;
}
