import type { Field } from '../tables/schema.ts';
import { backId } from '../document/ids.ts';
import type { Compiled } from '../formula/compile.ts';
import type { Origin } from '../formula/scope.ts';
import { readKey } from './changes.ts';
import { WHOLE, type LinkEnd, type Model } from './model.ts';
import { DIRTY, type Row } from './row.ts';

/** A formula field that reads some field, and how its records are found from the record that was read. */
interface Reader {
  table: string;
  field: string;
  slot: number;
  origin: Origin;
}

/** What it asks of the records. */
export interface DependentsHome {
  readonly model: Model;
  rows(table: string): readonly Row[];
  followAll(row: Row, end: LinkEnd): Row[];
  /** Is the value of a formula field worked out for any record? */
  isKnown(table: string, slot: number): boolean;
  /** Takes note that it is for none. */
  forgot(table: string, slot: number): void;
  touch(table: string): void;
  note(key: string, row: Row): void;
  isWatched(key: string): boolean;
}

/** Knows which formula fields read what, and makes them forget when it changes. */
export class Dependents {
  private readonly readers = new Map<string, Reader[]>();
  private readonly volatile: { table: string; field: string; slot: number }[] = [];
  /** Links by the stored field that decides them, at either end. */
  private readonly deciding = new Map<string, { end: LinkEnd }[]>();

  private readonly picked = new Set<string>();

  constructor(private readonly records: DependentsHome) {
    for (const t of records.model.tables.values()) {
      for (const end of t.links) {
        const link = end.field.link!;
        if (link.kind === 'picked') this.picked.add(end.field.id);
        // A picked link is decided by its own field, on the side that has it.
        const here = link.kind === 'picked' ? (end.back ? null : end.field.id) : end.back ? link.to! : link.from!;
        if (here === null) continue;
        const list = this.deciding.get(here) ?? [];
        list.push({ end });
        this.deciding.set(here, list);
      }
    }
  }

  add(table: string, field: Field, slot: number, compiled: Compiled): void {
    if (compiled.volatile) this.volatile.push({ table, field: field.id, slot });
    for (const d of compiled.dependencies) {
      const key = readKey(d.table, d.field);
      const list = this.readers.get(key) ?? [];
      if (!list.some((r) => r.field === field.id && JSON.stringify(r.origin) === JSON.stringify(d.origin))) {
        list.push({ table, field: field.id, slot, origin: d.origin });
      }
      this.readers.set(key, list);
    }
  }

  /** Does this field decide where some link leads? */
  decides(field: string): boolean {
    return this.deciding.has(field) || this.picked.has(field);
  }

  /** Before a cell changes: what is linked by the old value must forget. */
  cellChanging(row: Row, field: string): void {
    this.linksChange(row, field);
  }

  /** After a cell has changed: its readers forget, and what is linked by the new value. */
  cellChanged(row: Row, field: string): void {
    this.changed(row, field);
    this.linksChange(row, field);
  }

  /** When a record is new or about to go: what reads the whole table forgets, and what picked this very record. */
  comesOrGoes(row: Row): void {
    this.changed(row, WHOLE);
    for (const end of row.store.model.links) {
      if (!end.back || end.field.link!.kind !== 'picked') continue;
      this.changed(row, end.id);
      for (const there of this.records.followAll(row, end)) this.changed(there, end.field.id);
    }
  }

  private linksChange(row: Row, field: string): void {
    for (const { end } of this.deciding.get(field) ?? []) {
      this.changed(row, end.id);
      const other = end.back ? end.field.id : backId(end.field.id);
      const read = readKey(end.target, other);
      if (!this.readers.has(read) && !this.records.isWatched(read)) continue;
      for (const there of this.records.followAll(row, end)) this.changed(there, other);
    }
  }

  /** Makes every formula field forget that read this field of this record, and so on. */
  changed(row: Row, field: string): void {
    const stack: [Row, string][] = [[row, field]];
    for (let next = stack.pop(); next; next = stack.pop()) {
      const [at, what] = next;
      const key = readKey(at.tableId, what);
      this.records.note(key, at);
      for (const reader of this.readers.get(key) ?? []) {
        const isOfAll = reader.origin.from !== 'self';
        // Many changes one after the other go through all records for the first of them only.
        if (isOfAll && !this.records.isKnown(reader.table, reader.slot)) {
          this.records.touch(reader.table);
          continue;
        }
        const rows =
          reader.origin.from === 'self'
            ? this.backAlong(at, reader.table, reader.origin.hops)
            : this.records.rows(reader.table);
        for (const r of rows) {
          if (r.v[reader.slot] === DIRTY) continue;
          r.v[reader.slot] = DIRTY;
          stack.push([r, reader.field]);
        }
        if (isOfAll) this.records.forgot(reader.table, reader.slot);
        if (rows.length) this.records.touch(reader.table);
      }
    }
  }

  /** The records of a table from which these links lead to this record. */
  backAlong(row: Row, from: string, hops: readonly string[]): readonly Row[] {
    let rows: readonly Row[] = [row];
    const ends: LinkEnd[] = [];
    let table = from;
    for (const hop of hops) {
      const end = this.records.model.tables.get(table)?.links.find((l) => l.id === hop);
      if (!end) return [];
      ends.push(end);
      table = end.target;
    }
    for (const end of ends.reverse()) {
      const opposite = this.records.model.tables
        .get(end.target)
        ?.links.find((l) => l.field === end.field && l.back !== end.back);
      if (!opposite) return [];
      rows =
        rows.length === 1
          ? this.records.followAll(rows[0]!, opposite)
          : [...new Set(rows.flatMap((r) => this.records.followAll(r, opposite)))];
    }
    return rows;
  }

  forgetVolatile(): void {
    for (const v of this.volatile) {
      for (const row of this.records.rows(v.table)) {
        if (row.v[v.slot] === DIRTY) continue;
        row.v[v.slot] = DIRTY;
        this.changed(row, v.field);
      }
      this.records.touch(v.table);
    }
  }
}
