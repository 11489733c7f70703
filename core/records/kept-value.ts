import { parseTemporal } from '../formula/temporal.ts';
import { literal } from '../formula/builtins/convert.ts';
import { isContext, newContext, RecordValue, type Value } from '../formula/values.ts';

/** A value as it is kept: plain data, a record by its table and id, a date or duration as text. */
export type KeptValue =
  | null
  | boolean
  | number
  | string
  | { list: KeptValue[] }
  | { context: Record<string, KeptValue> }
  | { table: string; record: string }
  | { at: string };

export function keptValue(v: Value): KeptValue {
  if (v === null || typeof v === 'boolean' || typeof v === 'number' || typeof v === 'string') return v;
  if (Array.isArray(v)) return { list: v.map(keptValue) };
  if (v instanceof RecordValue) return { table: v.tableId, record: v.id };
  if (isContext(v)) return { context: Object.fromEntries(Object.entries(v).map(([k, x]) => [k, keptValue(x)])) };
  const at = literal(v).replace(/^@"(.*)"$/, '$1');
  if (parseTemporal(at) === null) throw new Error(`This cannot be kept: ${at.slice(0, 40)}`);
  return { at };
}

/** Where records are found. */
interface Finds {
  row(table: string, id: string): RecordValue | undefined;
}

/** The value again, with records as they are now; a record that is gone is nothing. */
export function valueOf(kept: KeptValue | undefined, records: Finds): Value {
  if (kept === undefined || kept === null || typeof kept !== 'object') return kept ?? null;
  if ('list' in kept) return kept.list.map((x) => valueOf(x, records));
  if ('record' in kept) return records.row(kept.table, kept.record) ?? null;
  if ('context' in kept)
    return newContext(Object.entries(kept.context).map(([k, x]) => [k, valueOf(x, records)] as [string, Value]));
  return parseTemporal(kept.at);
}
