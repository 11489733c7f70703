import { backId, thisId } from '../document/ids.ts';
import { walkSteps } from '../document/walk.ts';
import { noConditions } from '../document/queries.ts';
import type { Sentence } from '../formula/guided.ts';
import { everyCondition } from '../records/conditions.ts';
import { isSeveral } from '../records/model.ts';
import { tableOf } from '../tables/names.ts';
import type { Table } from '../tables/schema.ts';
import type { App, Routine, Step } from './schema.ts';
import { pairsOf, totalBy } from './total-by.ts';

/** Which of two ways to keep a total fits a step that adds amounts to a number. */
export type TotalFits =
  /** No record keeps the amounts: only adding to the number does. */
  | { fits: 'step' }
  /** Every record of a table is an amount: a formula field adds them up, and follows when one is changed or removed. */
  | { fits: 'formula'; table: Table; amounts: Table; formulas: { name: string; sentence: Sentence }[] };

/** A field of a record by its stored path: `this_moves.amount`; null for anything else. */
function fieldOf(stored: string, record: string): string | null {
  const [of, field, ...more] = stored.split('.');
  return of === record && field && more.length === 0 ? field : null;
}

/**
 * Which way fits; null where that cannot be said, as for a step that lowers, or is done for some of the records only.
 */
export function whatFits(app: App, routine: Routine, step: Extract<Step, { do: 'total' | 'raise' }>): TotalFits | null {
  const given = routine.given ? tableOf(app, routine.given) : undefined;
  const record = given ? thisId(given.id) : '';
  const amounts = step.values.map((v) => fieldOf(v.value, record));
  if (step.values.length === 0) return null;
  if (!given || amounts.some((a) => a === null)) return keepsAny(routine, step) ? null : { fits: 'step' };
  if (step.how === 'lower' || !isForEach(routine, given) || routine.steps.every((s) => s.id !== step.id)) return null;
  const sumOf = step.do === 'total' ? keyed(app, step, given, record) : linked(app, step.record, given, record);
  if (!sumOf) return null;
  const formulas = step.values.map((v, i) => ({
    name: `Sum of ${given.fields.find((f) => f.id === amounts[i])?.name ?? 'them'}`,
    sentence: sumOf.of(amounts[i]!),
  }));
  return { fits: 'formula', table: sumOf.table, amounts: given, formulas };
}

/** Does a routine also write one of the amounts into a record, as a move that explains the total? */
function keepsAny({ steps }: Routine, { id, values }: Extract<Step, { do: 'total' | 'raise' }>): boolean {
  const amounts = new Set(values.map((v) => v.value));
  let keeps = false;
  walkSteps<Step>(steps, (s) => {
    if (s.id !== id && 'values' in s && s.do !== 'raise' && s.do !== 'total') keeps ||= writes(s.values, amounts);
  });
  return keeps;
}
const writes = (values: unknown, amounts: ReadonlySet<string>): boolean =>
  Array.isArray(values) && values.some((v: { value?: unknown }) => amounts.has(String(v.value)));

/** Does a routine run for every record that is added to a table, and for nothing else? */
const isForEach = ({ starts = [] }: Routine, { id }: Table): boolean =>
  starts.length === 1 &&
  starts.every((t) => t.on === 'record changed' && t.table === id && t.how === 'added' && everyCondition(t.where).length === 0); // prettier-ignore

/** What adds up a field of the amounts, and the table whose records have the sum. */
interface SumOf {
  table: Table;
  of(field: string): Sentence;
}

/** A total by keys that are fields of the amount’s record. */
function keyed(app: App, step: Extract<Step, { do: 'total' }>, given: Table, record: string): SumOf | null {
  const table = tableOf(app, step.table);
  if (!table || table.id === given.id) return null;
  const can = pairsOf(table, given);
  const pairs = step.keys.map((k) => can.find((p) => p.here === k.field && p.there === fieldOf(k.value, record)));
  const known = pairs.filter((p) => p !== undefined);
  if (known.length === 0 || known.length < pairs.length) return null;
  return { table, of: (field) => totalBy(table, given, 'sum', field, known) };
}

/** The number of a record that the amount’s record links to: the sum is over the other end of that link. */
function linked(app: App, target: string, given: Table, record: string): SumOf | null {
  const link = given.fields.find((f) => f.id === fieldOf(target, record) && f.link && !isSeveral(f));
  const table = link && tableOf(app, link.link!.table);
  const where = noConditions();
  return table ? { table, of: (field) => ({ kind: 'total', how: 'sum', list: backId(link.id), field, where }) } : null;
}
