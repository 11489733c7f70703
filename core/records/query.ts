import type { Query } from '../app/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import { compare, type Value } from '../formula/values.ts';
import { compileWhere } from './conditions.ts';
import { display } from './format.ts';
import { SELF_SLOT, THINGS_FROM, type Thing } from './model.ts';
import { Row } from './row.ts';
import type { Records } from './store.ts';

/** A query ready to run again and again against today's records. */
export interface CompiledQuery {
  problems: Problem[];
  /** All records that fit, in order, before any limit; `values` are those of the things named. */
  run(values: readonly Value[], search?: string): Row[];
}

export function compileQuery(records: Records, query: Query, things: readonly Thing[]): CompiledQuery {
  const { model } = records;
  const options = model.optionsFor(query.table, things);
  const where = compileWhere(query.where, options);
  const orders = query.order.filter((o) => o.by).map((o) => ({ ...compile(o.by, options), descending: o.descending }));
  const via = query.via ? compile(query.via, model.optionsFor(null, things)) : null;
  const problems = [...where.problems, ...orders.flatMap((o) => o.problems), ...(via?.problems ?? [])];
  const first = THINGS_FROM;

  return {
    problems,
    run(values, search) {
      const frame: Value[] = [records.runtime as unknown as Value, null];
      values.forEach((v, i) => { frame[first + i] = v; });
      let rows: readonly Row[];
      if (via) {
        const v = via.run(frame);
        rows = (Array.isArray(v) ? v : [v]).filter((r): r is Row => r instanceof Row && r.tableId === query.table);
      } else rows = records.rows(query.table);
      const wanted = search?.trim().toLowerCase();
      let out = query.where.conditions.length || wanted ? rows.filter((row) => {
        frame[SELF_SLOT] = row;
        return where.test(frame) && (!wanted || found(row, wanted));
      }) : [...rows];
      if (orders.length) {
        const keyed = out.map((row) => {
          frame[SELF_SLOT] = row;
          return { row, keys: orders.map((o) => o.run(frame)) };
        });
        keyed.sort((a, b) => {
          for (let i = 0; i < orders.length; i++) {
            const c = order(a.keys[i]!, b.keys[i]!, orders[i]!.descending);
            if (c !== 0) return c;
          }
          return 0;
        });
        out = keyed.map((k) => k.row);
      }
      return out;
    },
  };
}

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Order of two values as people sort them: text without case and with its numbers counted, nothing always last. */
function order(a: Value, b: Value, descending: boolean): number {
  if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
  const c = typeof a === 'number' && typeof b === 'number' ? a - b
    : typeof a === 'string' && typeof b === 'string' ? collator.compare(a, b)
    : (compare(a, b) ?? collator.compare(display(a), display(b)));
  return descending ? -c : c;
}

/** Does any word-like field of the record, or a record it links to, hold the text looked for? */
function found(row: Row, wanted: string): boolean {
  for (const member of row.store.model.members) {
    if (member.type.k === 'list') continue;
    if (display(member.get(row)).toLowerCase().includes(wanted)) return true;
  }
  return false;
}
