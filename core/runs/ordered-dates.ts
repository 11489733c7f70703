import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { Touched } from '../records/touched.ts';

/** A moment in milliseconds since 1970, and the record that gives it. */
interface Entry {
  at: number;
  id: string;
}

/** So many records that changed are put in their places one by one; where more did, all are put in order anew. */
const FEW = 50;

const inOrder = (a: Entry, b: Entry): number => a.at - b.at || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/**
 * The moments that a field of a table's records gives, in their order: nobody need look at all records to know which come
 * next. Records that change are looked at again when something is asked.
 */
export class OrderedDates {
  private readonly touched: Touched;
  private entries: Entry[] = [];
  private readonly momentById = new Map<string, number>();
  private isNew = true;
  private moved = false;

  constructor(
    private readonly records: Records,
    private readonly table: string,
    field: string,
    /** The moment of a record, in milliseconds since 1970; null for none. */
    private readonly momentOf: (row: Row) => number | null,
  ) {
    this.touched = new Touched(records);
    this.touched.watch([{ table, reads: [{ table, field, origin: { from: 'self', hops: [] } }], volatile: false }]);
  }

  /** Has any record changed since {@link takeMoved}, so that a moment may be sooner? */
  get mayMove(): boolean {
    return this.moved || this.isStale;
  }
  private get isStale(): boolean {
    return this.isNew || !this.touched.isEmpty;
  }

  /** Had any record changed that was looked at since this was asked last? */
  takeMoved(): boolean {
    const { moved } = this;
    this.moved = false;
    return moved;
  }

  /** The records whose moments are after an instant, up to and including another, in the order of their moments. */
  *between(after: number, upTo: number): Iterable<{ at: number; row: Row }> {
    this.renew();
    for (let i = this.count((e) => e.at <= after); i < this.entries.length; i++) {
      const { at, id } = this.entries[i]!;
      if (at > upTo) return;
      const row = this.records.row(this.table, id);
      if (row) yield { at, row };
    }
  }

  /** The next moment after an instant; Infinity for none. */
  next(after: number): number {
    this.renew();
    return this.entries[this.count((e) => e.at <= after)]?.at ?? Infinity;
  }

  /** So many entries at the beginning are so. */
  private count(isSo: (entry: Entry) => boolean): number {
    let low = 0;
    let high = this.entries.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (isSo(this.entries[mid]!)) low = mid + 1;
      else high = mid;
    }
    return low;
  }

  /** Looks again at what has changed. */
  private renew(): void {
    if (!this.isStale) return void this.touched.take();
    this.moved = true;
    const ids = this.touched.take();
    if (this.isNew || !ids || ids.size > FEW) this.putAll();
    else for (const id of ids) this.put(id);
    this.isNew = false;
  }

  private putAll(): void {
    this.entries = [];
    this.momentById.clear();
    for (const row of this.records.rows(this.table)) {
      const at = this.momentOf(row);
      if (at === null) continue;
      this.entries.push({ at, id: row.id });
      this.momentById.set(row.id, at);
    }
    this.entries.sort(inOrder);
  }

  private put(id: string): void {
    const row = this.records.row(this.table, id);
    const at = row ? this.momentOf(row) : null;
    const was = this.momentById.get(id) ?? null;
    if (at === was) return;
    const placeOf = (entry: Entry): number => this.count((e) => inOrder(e, entry) < 0);
    if (was !== null) {
      this.entries.splice(placeOf({ at: was, id }), 1);
      this.momentById.delete(id);
    }
    if (at === null) return;
    const entry = { at, id };
    this.entries.splice(placeOf(entry), 0, entry);
    this.momentById.set(id, at);
  }

  close(): void {
    this.touched.close();
  }
}
