import type { Query } from '../app/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere } from './conditions.ts';
import { display } from './format.ts';
import { SELF_SLOT, type Thing } from './model.ts';
import { compareKeys, FirstInOrder, sortKey, type SortKey } from './order.ts';
import { Row } from './row.ts';
import type { Records } from './store.ts';

/** A query ready to run again and again against today's records. */
export interface CompiledQuery {
  problems: Problem[];
  /** All records that fit, in order, before any limit; `values` are those of the things named. */
  run(values: readonly Value[], search?: string): readonly Row[];
  /** The same records in no particular order. */
  every(values: readonly Value[], search?: string): readonly Row[];
  /** Part of them, with how many there are. The first part of a long list is found without ordering all of it. */
  part(values: readonly Value[], from: number, count: number, search?: string): { total: number; rows: readonly Row[] };
}

/** What was asked; the same question to the same records is answered from memory. */
interface Asked {
  version: number;
  values: readonly Value[];
  search: string;
}
interface Whole extends Asked {
  found: readonly Row[];
  ordered: readonly Row[] | null;
}
interface Beginning extends Asked {
  total: number;
  rows: readonly Row[];
}

/** Up to this many records from the beginning are found without ordering all of them. */
const SHORT = 200;

export function compileQuery(records: Records, query: Query, things: readonly Thing[]): CompiledQuery {
  const { model } = records;
  const options = model.optionsFor(query.table, things);
  const where = compileWhere(query.where, options);
  const orders = query.order.filter((o) => o.by).map((o) => ({ ...compile(o.by, options), descending: o.descending }));
  const directions = orders.map((o) => (o.descending ? -1 : 1));
  const via = query.via ? compile(query.via, model.optionsFor(null, things)) : null;
  const problems = [...where.problems, ...orders.flatMap((o) => o.problems), ...(via?.problems ?? [])];
  const filtered = query.where.conditions.length > 0;
  let whole: Whole | null = null;
  let beginning: Beginning | null = null;

  function source(frame: Value[]): readonly Row[] {
    if (!via) return records.rows(query.table);
    const v = via.run(frame);
    return (Array.isArray(v) ? v : [v]).filter((r): r is Row => r instanceof Row && r.tableId === query.table);
  }

  const wantedOf = (search = ''): string => search.trim().toLowerCase();
  const answers = (a: Asked | null, values: readonly Value[], search: string): boolean =>
    a?.version === records.version &&
    a.search === search &&
    a.values.length === values.length &&
    a.values.every((v, i) => v === values[i]);

  /** Calls back with every record that fits; the frame then stands at it. */
  function each(values: readonly Value[], wanted: string, take: (row: Row, frame: Value[]) => void): void {
    const frame: Value[] = [records.runtime as unknown as Value, null, ...values];
    for (const row of source(frame)) {
      frame[SELF_SLOT] = row;
      if (filtered && !where.test(frame)) continue;
      if (wanted && !holds(row, wanted)) continue;
      take(row, frame);
    }
  }

  function find(values: readonly Value[], search?: string): Whole {
    const wanted = wantedOf(search);
    if (answers(whole, values, wanted)) return whole!;
    const found: Row[] = [];
    each(values, wanted, (row) => found.push(row));
    // Working values out may have touched nothing, but it may have moved the clock's fields: the version is read last.
    whole = {
      version: records.version,
      values: [...values],
      search: wanted,
      found,
      ordered: orders.length ? null : found,
    };
    return whole;
  }

  function inOrder(w: Whole): readonly Row[] {
    if (!w.ordered) {
      const frame: Value[] = [records.runtime as unknown as Value, null, ...w.values];
      const keyed = w.found.map((row, at): { row: Row; at: number; keys: SortKey[] } => {
        frame[SELF_SLOT] = row;
        return { row, at, keys: orders.map((o) => sortKey(o.run(frame))) };
      });
      keyed.sort((a, b) => compareKeys(a.keys, b.keys, directions) || a.at - b.at);
      w.ordered = keyed.map((k) => k.row);
    }
    return w.ordered;
  }

  function begin(values: readonly Value[], search: string | undefined): Beginning {
    const wanted = wantedOf(search);
    if (answers(beginning, values, wanted)) return beginning!;
    const first = new FirstInOrder<Row>(SHORT, directions);
    let total = 0;
    each(values, wanted, (row, frame) => {
      total++;
      first.offer(row, (i) => sortKey(orders[i]!.run(frame)));
    });
    beginning = { version: records.version, values: [...values], search: wanted, total, rows: first.items };
    return beginning;
  }

  return {
    problems,
    run: (values, search) => inOrder(find(values, search)),
    every: (values, search) => find(values, search).found,
    part(values, from, count, search) {
      const end = from + count;
      if (orders.length && end <= SHORT && !(answers(whole, values, wantedOf(search)) && whole!.ordered)) {
        const b = begin(values, search);
        return { total: b.total, rows: b.rows.slice(from, end) };
      }
      const w = find(values, search);
      return { total: w.found.length, rows: inOrder(w).slice(from, end) };
    },
  };
}

/** Does any word-like field of the record, or a record it links to, hold the text looked for? */
function holds(row: Row, wanted: string): boolean {
  for (const member of row.store.model.members) {
    if (member.type.k === 'list') continue;
    if (display(member.get(row)).toLowerCase().includes(wanted)) return true;
  }
  return false;
}
