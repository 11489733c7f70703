import type { Query } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import { compile, type Compiled } from '../formula/compile.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere, everyCondition } from './conditions.ts';
import { asking, type Asks } from './fetching.ts';
import { SELF_SLOT, type Thing } from './model.ts';
import { compareKeys, FirstInOrder, sortKey, type SortKey } from './order.ts';
import { Row } from './row.ts';
import { searchWords } from './search.ts';
import type { Records } from './store.ts';

/** Part of what a query finds, with how many there are in all. */
export interface QueryPart {
  total: number;
  rows: readonly Row[];
}

/** Up to this many records from the beginning are found without ordering all of them. */
export const SHORT = 200;

/**
 * A query ready to run again and again against today's records. `values` are always those of the things it was
 * compiled with, in their order.
 */
export class CompiledQuery {
  readonly problems: readonly Problem[];
  /** What its conditions and orders read of each record. */
  readonly reads: readonly Dependency[];
  /** What decides which records are looked at and how many of them, when a formula does. */
  readonly viaReads: readonly Dependency[];
  /** The result changes with the clock. */
  readonly volatile: boolean;
  readonly table: string;
  readonly directions: readonly number[];
  private readonly where: ReturnType<typeof compileWhere>;
  private readonly filtered: boolean;
  private readonly orders: readonly Compiled[];
  private readonly via: Compiled | null;
  private readonly limit: Compiled | number;
  /** Of a fetched table: what is asked for. */
  readonly inputs: Asks | null;

  constructor(
    readonly records: Records,
    query: Query,
    readonly things: readonly Thing[],
  ) {
    const { model } = records;
    const options = model.optionsFor(query.table, things);
    const ordered = query.order.filter((o) => o.by);
    this.table = query.table;
    this.where = compileWhere(query.where, options);
    this.filtered = everyCondition(query.where).length > 0;
    this.orders = ordered.map((o) => compile(o.by, options));
    this.directions = ordered.map((o) => (o.descending ? -1 : 1));
    this.via = query.via ? compile(query.via, model.optionsFor(null, things)) : null;
    this.limit = typeof query.limit === 'number' ? query.limit : Infinity;
    if (typeof query.limit === 'string' && query.limit)
      this.limit = compile(query.limit, model.optionsFor(null, things));
    const isFetched = Boolean(model.tables.get(query.table)?.table.fetched) && !this.via;
    this.inputs = (isFetched && asking.compile?.(model, query, things)) || null;
    const around = [this.via, this.limit].flatMap((c) => (c === null || typeof c === 'number' ? [] : [c]));
    this.problems = [
      ...this.where.problems,
      ...[...this.orders, ...around].flatMap((o) => o.problems),
      ...(this.inputs?.problems ?? []),
    ];
    this.reads = [...this.where.reads, ...this.orders.flatMap((o) => o.dependencies)];
    this.viaReads = [...around.flatMap((c) => c.dependencies), ...(this.inputs?.reads ?? [])];
    this.volatile = this.where.volatile || [...this.orders, ...around].some((o) => o.volatile);
  }

  /** How many of what is found count; where a formula gives no number, all of them. */
  most(values: readonly Value[]): number {
    if (typeof this.limit === 'number') return this.limit;
    const n = this.limit.run(this.frame(values));
    return typeof n === 'number' ? Math.max(0, Math.floor(n)) : Infinity;
  }

  get isOrdered(): boolean {
    return this.orders.length > 0;
  }

  private get isFetched(): boolean {
    return this.inputs !== null && this.records.fetcher !== null;
  }

  /** True when a formula or a service gives the records, so that their order is that one's. */
  get isVia(): boolean {
    return this.via !== null || this.isFetched;
  }

  frame(values: readonly Value[]): Value[] {
    return [this.records.runtime as unknown as Value, null, ...values];
  }

  /** The records that are looked at, before any condition. */
  source(frame: Value[]): readonly Row[] {
    if (this.isFetched) return this.records.fetcher!.rows(this.table, this.inputs!.at(frame, ''), this).rows ?? [];
    if (!this.via) return this.records.rows(this.table);
    frame[SELF_SLOT] = null;
    const v = this.via.run(frame);
    return (Array.isArray(v) ? v : [v]).filter((r): r is Row => r instanceof Row && r.tableId === this.table);
  }

  fits(row: Row, frame: Value[]): boolean {
    if (!this.filtered) return true;
    frame[SELF_SLOT] = row;
    try {
      return this.where.test(frame);
    } catch {
      return false; // a condition that runs away holds for nothing
    }
  }

  key(row: Row, order: number, frame: Value[]): SortKey {
    frame[SELF_SLOT] = row;
    return sortKey(this.orders[order]!.run(frame));
  }

  keys(row: Row, frame: Value[]): SortKey[] {
    frame[SELF_SLOT] = row;
    const keys: SortKey[] = new Array(this.orders.length);
    for (let i = 0; i < keys.length; i++) keys[i] = sortKey(this.orders[i]!.run(frame));
    return keys;
  }

  /** All records that fit, in no particular order. */
  every(values: readonly Value[], search = ''): readonly Row[] {
    return this.asked.every.answer(this.records, values, search, () => {
      const frame = this.frame(values);
      const wanted = wantedOf(search);
      const words = wanted ? searchWords(this.records, this.table) : null;
      return this.source(frame).filter((row) => this.fits(row, frame) && (!words || words.holds(row, wanted)));
    });
  }

  /** All records that fit, in order, before any limit. */
  run(values: readonly Value[], search = ''): readonly Row[] {
    if (!this.isOrdered) return this.every(values, search);
    return this.asked.run.answer(this.records, values, search, () => {
      const frame = this.frame(values);
      return this.every(values, search)
        .map((row, at) => ({ row, at, keys: this.keys(row, frame) }))
        .sort((a, b) => compareKeys(a.keys, b.keys, this.directions) || a.at - b.at)
        .map((k) => k.row);
    });
  }

  /** Part of them, with how many there are. The first part of a long list is found without ordering all of it. */
  part(values: readonly Value[], from: number, count: number, search = ''): QueryPart {
    const total = this.every(values, search).length;
    const end = from + count;
    if (!this.isOrdered || end > SHORT || this.asked.run.knows(this.records, values, search))
      return { total, rows: this.run(values, search).slice(from, end) };
    const first = this.asked.begin.answer(this.records, values, search, () =>
      this.begin(this.every(values, search), this.frame(values)),
    );
    return { total, rows: first.slice(from, end) };
  }

  private readonly asked = { every: new Asked(), run: new Asked(), begin: new Asked() };

  /** The first of some records in order. */
  begin(found: readonly Row[], frame: Value[]): Row[] {
    const first = new FirstInOrder<Row>(SHORT, this.directions);
    for (const row of found) first.offer(row, (i) => this.key(row, i, frame));
    return first.items;
  }
}

/** What was asked last: the same question to the same records is answered from memory. */
class Asked {
  private version = -1;
  private values: readonly Value[] = [];
  private search = '';
  private rows: readonly Row[] = [];

  knows(records: Records, values: readonly Value[], search: string): boolean {
    return (
      this.version === records.version &&
      this.search === search &&
      this.values.length === values.length &&
      this.values.every((v, i) => v === values[i])
    );
  }

  answer(records: Records, values: readonly Value[], search: string, find: () => readonly Row[]): readonly Row[] {
    if (!this.knows(records, values, search)) {
      this.rows = find();
      // Working values out may have moved the clock's fields: the version is read last.
      this.version = records.version;
      this.values = [...values];
      this.search = search;
    }
    return this.rows;
  }
}

/** A text looked for, as it is compared. */
export const wantedOf = (search: unknown): string => (typeof search === 'string' ? search.trim().toLowerCase() : '');

export const compileQuery = (records: Records, query: Query, things: readonly Thing[]): CompiledQuery =>
  new CompiledQuery(records, query, things);
