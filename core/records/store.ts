import type { Tables } from '../tables/names.ts';
import { late } from '../formula/late.ts';
import { wallClock } from '../formula/wall-clock.ts';
import type { RecordValue } from '../formula/values.ts';
import { listCell, type Cell } from '../fields/lists.ts';
import { readCell } from './cells.ts';
import { Changes } from './changes.ts';
import { Dependents } from './dependents.ts';
import type { Fetcher, FetchState } from './fetching.ts';
import type { MayHere } from './may-here.ts';
import { isSeveral, Model, type LinkEnd, type RecordsRuntime } from './model.ts';
import { DIRTY, Row } from './row.ts';
import { linkKey, TableRows } from './table-rows.ts';

/** The records of one table among the others. */
export type TableStore = TableRows<Records>;

export type Cells = Record<string, Cell>;
export interface StoredRecord {
  id: string;
  cells: Cells;
  told?: Row['told'] | undefined;
  hidden?: Iterable<string> | null | undefined;
}

/**
 * All records of an app in memory. Formula fields are worked out when read and forgotten when something they
 * read has changed; links are found by index from both ends.
 */
export class Records {
  model: Model;
  readonly stores = new Map<string, TableStore>();
  readonly runtime: RecordsRuntime;
  private who: string | null = null;
  dependents: Dependents;
  private readonly listeners = new Set<(tables: ReadonlySet<string>, changes: Changes) => void>();
  /** Those who keep something worked out from records: they hear before anybody asks them. */
  private readonly indexes = new Set<(tables: ReadonlySet<string>, changes: Changes) => void>();
  private changes = new Changes();
  /** How many watch a field. */
  private readonly watched = new Map<string, number>();
  private quiet = 0;
  /** Fetches what services answer; null where nothing is fetched, as in a picture of a screen. */
  fetcher: Fetcher | null = null;

  constructor(app: Tables, now: () => number = wallClock) {
    const records = this;
    this.runtime = {
      get stamp() {
        return records.stamp;
      },
      get may() {
        return records.may;
      },
      now,
      person: () => this.person,
      work: () => late.workOf(this.model.app),
      all: (table) => (this.stores.get(table)?.rows as RecordValue[] | undefined) ?? [],
    };
    this.model = new Model(app);
    this.dependents = new Dependents(this);
    this.arrange();
  }

  /** Who uses the app here, as formulas see it. */
  get person(): string | null {
    return this.who;
  }
  set person(person: string | null) {
    this.beUsedBy(person);
  }
  /** The record of the person who uses the app here, where it is known. */
  personRecord: { table: string; record: string } | null = null;

  /** What whoever uses the app here may do; null where that is not known, or is everything. */
  get may(): MayHere | null {
    return this.mayNow;
  }
  set may(may: MayHere | null) {
    if (may === this.mayNow) return;
    this.mayNow = may;
    this.forgetAll();
  }
  private mayNow: MayHere | null = null;

  /** From now on this person uses the app here, by name; `record` is theirs in the table of people, where that is known. */
  beUsedBy(person: string | null, record: { table: string; record: string } | null = null): void {
    const same = record?.table === this.personRecord?.table && record?.record === this.personRecord?.record;
    if (person === this.who && same) return;
    this.who = person;
    this.personRecord = record;
    this.dependents.forgetVolatile();
    this.changes.clock = true;
    this.announce();
  }

  /** Takes a changed app document. Cells stay as they are and are read by their fields' types again. */
  setApp(app: Tables): void {
    const before = this.model;
    if ((['tables', 'variables', 'work', 'zone'] as const).every((part) => app[part] === before.app[part])) {
      before.rename(app);
      return;
    }
    this.model = new Model(app);
    this.dependents = new Dependents(this);
    this.arrange(before);
    for (const t of app.tables) this.touch(t.id);
    this.changes.all = true;
    this.announce();
  }

  private arrange(before?: Model): void {
    this.linksAt++;
    for (const [id, model] of this.model.tables) {
      const store = this.stores.get(id);
      if (!store) this.stores.set(id, new TableRows<Records>(id, model, this));
      else {
        const same = before?.tables.get(id)?.table === model.table;
        store.model = model;
        store.dropIndexes();
        for (const row of store.rows) {
          if (same) this.forget(store, row);
          else store.fill(row);
        }
      }
    }
    for (const [id, store] of this.stores) {
      const model = this.model.tables.get(id);
      store.formulas = [];
      for (const field of model?.table.fields ?? []) {
        if (field.type !== 'formula') continue;
        const slot = model!.slots.get(field.id)!;
        const compiled = this.model.formula(id, field);
        store.formulas[slot] = { slot, compiled, frame: [], busy: false, isKnown: false };
        this.dependents.add(id, field, slot, compiled);
      }
    }
  }

  private forget(store: TableStore, row: Row): void {
    const { v } = row;
    for (const slot of store.model.formulaSlots) v[slot] = DIRTY;
  }

  rows(table: string): readonly Row[] {
    return this.stores.get(table)?.rows ?? [];
  }

  row(table: string, id: string): Row | undefined {
    return this.stores.get(table)?.byId.get(id);
  }

  /** Puts many records in at once, before anything has been read; formula fields are worked out afterwards. */
  load(table: string, records: Iterable<StoredRecord>): void {
    const store = this.stores.get(table);
    if (!store) return;
    for (const r of records) {
      if (store.byId.has(r.id)) continue;
      const row = new Row(r.id, store, r.cells, store.came++);
      this.learn(row, r);
      store.fill(row);
      store.add(row);
    }
    store.dropIndexes();
    this.linksAt++;
    this.forgetAll();
  }

  /** Forgets every worked-out value, after a bulk change. */
  forgetAll(): void {
    for (const [id, store] of this.stores) {
      for (const row of store.rows) this.forget(store, row);
      this.touch(id);
    }
    this.changes.all = true;
    this.announce();
  }

  /** Sets cells of a record; a new record is made of these very cells, without a copy. */
  set(table: string, id: string, cells: Cells): void {
    const store = this.stores.get(table);
    if (!store) return;
    const row = store.byId.get(id);
    if (!row) {
      const made = new Row(id, store, cells, store.came++);
      store.fill(made);
      store.add(made);
      store.indexRow(made, true);
      this.linksAt++;
      this.came(store, made);
    } else {
      for (const [field, cell] of Object.entries(cells)) this.change(store, row, field, cell);
    }
    this.touch(table);
    this.announce();
  }

  /** Takes what is known elsewhere of a record that is here: values of formula fields, and fields that are hidden. */
  tell(table: string, id: string, known: Pick<StoredRecord, 'told' | 'hidden'>): void {
    const row = this.row(table, id);
    if (!row) return;
    const before = row.told;
    this.learn(row, known);
    this.stores.get(table)!.fill(row);
    for (const field of [...Object.keys({ ...before, ...known.told }), ...(known.hidden ?? [])])
      this.dependents.cellChanged(row, field);
    this.touch(table);
    this.announce();
  }
  private learn(row: Row, { told, hidden }: Pick<StoredRecord, 'told' | 'hidden'>): void {
    row.told = told ?? null;
    row.hidden = hidden ? new Set(hidden) : null;
    this.isTold ||= told != null;
  }

  private change(store: TableStore, row: Row, field: string, cell: Cell): void {
    const from = row.cells[field] ?? null;
    if (from === cell) return;
    this.dependents.cellChanging(row, field);
    row.cells[field] = cell;
    store.reindex(row, field, from, cell);
    if (this.dependents.decides(field)) this.linksAt++;
    const slot = store.model.slots.get(field);
    const def = store.model.fields.get(field);
    if (slot !== undefined && def && def.type !== 'formula') row.v[slot] = readCell(def, cell);
    this.dependents.cellChanged(row, field);
  }

  private came(store: TableStore, row: Row): void {
    for (const f of store.model.table.fields) this.dependents.cellChanged(row, f.id);
    this.dependents.comesOrGoes(row);
  }

  remove(table: string, id: string): void {
    const store = this.stores.get(table);
    const row = store?.byId.get(id);
    if (!store || !row) return;
    for (const f of store.model.table.fields) this.dependents.cellChanging(row, f.id);
    this.dependents.comesOrGoes(row);
    store.remove(row);
    store.indexRow(row, false);
    this.linksAt++;
    this.touch(table);
    this.announce();
  }

  /** Puts a record that was taken out back where it stood. */
  putBack(row: Row): void {
    const store = this.stores.get(row.tableId);
    if (!store || store.byId.has(row.id)) return;
    store.add(row);
    store.fill(row);
    store.indexRow(row, true);
    this.linksAt++;
    this.came(store, row);
    this.touch(store.id);
    this.announce();
  }

  /** Some values here were worked out elsewhere: they are as of when that was told. */
  isTold = false;

  /** Grows when any link of any record may lead elsewhere than before. */
  linksAt = 0;

  /** All records at the other end of a link. A row remembers where its links lead until some link changes. */
  followAll(row: Row, end: LinkEnd): Row[] {
    if (row.linkedAt !== this.linksAt) {
      row.linked = [];
      row.linkedAt = this.linksAt;
    }
    return (row.linked[end.place] ??= this.find(row, end));
  }

  private find(row: Row, end: LinkEnd): Row[] {
    const target = this.stores.get(end.target);
    const link = end.field.link!;
    if (!target) return [];
    if (link.kind === 'picked') {
      if (end.back) return target.having(end.field.id, row.id.toLowerCase());
      if (isSeveral(end.field))
        return listCell(row.cells[end.field.id]).flatMap((id) => {
          const one = target.byId.get(id) ?? target.former(id);
          if (!one) this.missing(end.target, id);
          return one ?? [];
        });
      const cell = row.cells[end.field.id];
      const found = target.byId.get(String(cell ?? '')) ?? target.former(cell);
      if (!found) this.missing(end.target, cell);
      return found ? [found] : [];
    }
    const [here, there] = end.back ? [link.to!, link.from!] : [link.from!, link.to!];
    const key = linkKey(row.cells[here]);
    if (key === null) return [];
    const found = target.having(there, key);
    if (found.length === 0 && !end.back && there === target.model.table.fetched?.key)
      this.missing(end.target, row.cells[here]);
    return found;
  }

  /** A record is wanted that is not here: where it can be fetched, it is, and what is known of that is told. */
  missing(table: string, id: Cell | undefined): FetchState | null | undefined {
    const { one } = this.model.tables.get(table)?.table.fetched ?? {};
    return one && id != null && id !== '' ? this.fetcher?.one(table, String(id)) : null;
  }

  /** Forgets what depends on the clock; call it when a minute has passed. */
  tick(): void {
    this.dependents.forgetVolatile();
    this.grow();
    this.changes.clock = true;
    this.announce();
  }

  /** Asks to be told which records change in these fields. Returns the way to stop it. */
  watch(keys: Iterable<string>): () => void {
    const own = [...new Set(keys)];
    for (const k of own) this.watched.set(k, (this.watched.get(k) ?? 0) + 1);
    return () => {
      for (const k of own) {
        const n = this.watched.get(k)! - 1;
        if (n) this.watched.set(k, n);
        else this.watched.delete(k);
      }
    };
  }

  isWatched(key: string): boolean {
    return this.watched.has(key);
  }

  /** Takes note that a record's value of a field is or may be different. */
  note(key: string, row: Row): void {
    if (this.watched.has(key)) this.changes.note(key, row);
  }

  /** Grows with every change, so that an answer can be kept until the next. */
  version = 0;
  /** Another object with every change, for what formulas keep until then. */
  private stamp: object = {};

  private grow(): void {
    this.version++;
    this.stamp = {};
  }

  /** Is a formula field's value worked out for any record? When not, there is nothing to forget. */
  isKnown(table: string, slot: number): boolean {
    return this.stores.get(table)?.formulas[slot]?.isKnown ?? false;
  }

  forgot(table: string, slot: number): void {
    const formula = this.stores.get(table)?.formulas[slot];
    if (formula) formula.isKnown = false;
  }

  touch(table: string): void {
    this.grow();
    this.changes.tables.add(table);
  }

  /** Runs several changes and tells listeners once. */
  batch<T>(work: () => T): T {
    this.quiet++;
    try {
      return work();
    } finally {
      this.quiet--;
      this.announce();
    }
  }

  private announce(): void {
    if (this.quiet || this.changes.isEmpty) return;
    const { changes } = this;
    this.changes = new Changes();
    for (const l of [...this.indexes, ...this.listeners]) l(changes.tables, changes);
  }

  /** Calls back with the tables that changed, their formula fields included, and what is known of it. Who keeps an index of records hears before the others. Returns the way to stop it. */
  subscribe(listener: (tables: ReadonlySet<string>, changes: Changes) => void, asIndex = false): () => void {
    const set = asIndex ? this.indexes : this.listeners;
    set.add(listener);
    return () => set.delete(listener);
  }
}
