import type { Query } from '../app/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere } from './conditions.ts';
import { display } from './format.ts';
import { SELF_SLOT, type Thing } from './model.ts';
import { compareKeys, firstInOrder, sortKey, type SortKey } from './order.ts';
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

interface Result {
  version: number;
  values: readonly Value[];
  search: string;
  found: readonly Row[];
  keys: SortKey[][] | null;
  ordered: readonly Row[] | null;
}

export function compileQuery(records: Records, query: Query, things: readonly Thing[]): CompiledQuery {
  const { model } = records;
  const options = model.optionsFor(query.table, things);
  const where = compileWhere(query.where, options);
  const orders = query.order.filter((o) => o.by).map((o) => ({ ...compile(o.by, options), descending: o.descending }));
  const directions = orders.map((o) => (o.descending ? -1 : 1));
  const via = query.via ? compile(query.via, model.optionsFor(null, things)) : null;
  const problems = [...where.problems, ...orders.flatMap((o) => o.problems), ...(via?.problems ?? [])];
  let last: Result | null = null;

  function source(frame: Value[]): readonly Row[] {
    if (!via) return records.rows(query.table);
    const v = via.run(frame);
    return (Array.isArray(v) ? v : [v]).filter((r): r is Row => r instanceof Row && r.tableId === query.table);
  }

  /** Finds what fits, with the keys it is ordered by. The same question to the same records is answered from memory. */
  function find(values: readonly Value[], search = ''): Result {
    const wanted = search.trim().toLowerCase();
    if (
      last?.version === records.version &&
      last.search === wanted &&
      last.values.length === values.length &&
      last.values.every((v, i) => v === values[i])
    )
      return last;
    const frame: Value[] = [records.runtime as unknown as Value, null, ...values];
    const rows = source(frame);
    const filtered = query.where.conditions.length > 0 || wanted !== '';
    const found: Row[] = [];
    const keys: SortKey[][] | null = orders.length ? [] : null;
    for (const row of rows) {
      frame[SELF_SLOT] = row;
      if (filtered && !(where.test(frame) && (!wanted || holds(row, wanted)))) continue;
      found.push(row);
      keys?.push(orders.map((o) => sortKey(o.run(frame))));
    }
    // Working values out may have touched nothing, but it may have moved the clock's fields: the version is read last.
    last = { version: records.version, values: [...values], search: wanted, found, keys, ordered: keys ? null : found };
    return last;
  }

  function inOrder(r: Result): readonly Row[] {
    if (!r.ordered) {
      const { keys, found } = r;
      const places = found.map((_, i) => i).sort((a, b) => compareKeys(keys![a]!, keys![b]!, directions) || a - b);
      r.ordered = places.map((i) => found[i]!);
    }
    return r.ordered;
  }

  return {
    problems,
    run: (values, search) => inOrder(find(values, search)),
    every: (values, search) => find(values, search).found,
    part(values, from, count, search) {
      const r = find(values, search);
      const end = from + count;
      if (r.ordered || end > 200) return { total: r.found.length, rows: inOrder(r).slice(from, end) };
      return {
        total: r.found.length,
        rows: firstInOrder(r.keys!, directions, end)
          .slice(from)
          .map((i) => r.found[i]!),
      };
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
