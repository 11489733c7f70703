import { keyOf } from '../formula/keys.ts';
import { CalendarDate, DateTime, RecordValue, type Value } from '../formula/values.ts';
import { parts } from '../formula/temporal.ts';
import type { Field } from '../tables/schema.ts';
import { display } from './format.ts';
import { compareKey, sortKey } from './order.ts';
import type { Row } from './row.ts';

/** A field and how it is read of a record. */
export interface ReadField {
  field: Field;
  get(row: Row): Value;
}

/** What several records have in common. */
export interface Named {
  /** Told apart by it: exact, so that two values are never taken for one. Empty where nothing is filled in. */
  key: string;
  label: string;
  /** Groups with one stand in its order. */
  rank: number | null;
}

export const isNothing = (v: Value): boolean =>
  v === null || v === undefined || v === '' || (Array.isArray(v) && v.length === 0);

/** A value as one to put records together by. Choices rank as their field has them, yes before no. */
export function named(v: Value, field: Field, missing = 'not filled in'): Named {
  if (isNothing(v)) return { key: '', label: missing, rank: null };
  const key = keyOf(v) ?? display(v);
  if (v instanceof RecordValue) return { key, label: v.title(), rank: null };
  const place = field.choices?.findIndex((c) => c.name === v) ?? -1;
  const rank = place >= 0 ? place : typeof v === 'number' ? v : typeof v === 'boolean' ? Number(!v) : null;
  return { key, label: display(v, field), rank };
}

/** Records that share a value. */
export interface Group extends Named {
  rows: Row[];
}

/** The day of a date, or of a date and time; other values as they are. */
const dayOf = (v: Value): Value => (v instanceof DateTime ? parts(v).date : v);

/**
 * Puts records together by a field: choices in their order, the rest as people order them, and last those where nothing
 * is filled in. Where the records come in the order of that field, so do the groups. Times are put together by day.
 */
export function putTogether(rows: readonly Row[], by: ReadField, { asTheyCome = false } = {}): Group[] {
  const groups = new Map<string, Group & { order: ReturnType<typeof sortKey> }>();
  const missing = `No ${by.field.name.toLowerCase()}`;
  for (const row of rows) {
    const v = dayOf(by.get(row));
    const it = named(v, by.field, missing);
    const group = groups.get(it.key);
    if (group) group.rows.push(row);
    else
      groups.set(it.key, {
        ...it,
        order: v instanceof CalendarDate ? v.day : (it.rank ?? sortKey(it.label)),
        rows: [row],
      });
  }
  const list = [...groups.values()];
  if (asTheyCome) return list;
  return list.sort((a, b) =>
    (a.key === '') !== (b.key === '') ? (a.key === '' ? 1 : -1) : compareKey(a.order, b.order, 1),
  );
}
