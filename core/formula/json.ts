import { dateText, dateTimeText, durationText, timeText } from './temporal.ts';
import { literal } from './builtins/convert.ts';
import {
  ANY,
  BOOLEAN,
  DATE,
  DATETIME,
  DAYS,
  MONTHS,
  NULL,
  NUMBER,
  TEXT,
  TIME,
  listOf,
  union,
  type Type,
} from './types.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  FunctionValue,
  MonthsDuration,
  Range,
  RecordValue,
  newContext,
  type Value,
} from './values.ts';

/** A JSON value as a FEEL value; text stays text. */
export function fromJson(v: unknown): Value {
  if (v === null || v === undefined) return null;
  if (typeof v === 'boolean' || typeof v === 'number' || typeof v === 'string') return v;
  if (Array.isArray(v)) return v.map(fromJson);
  return newContext(Object.entries(v as object).map(([k, x]) => [k, fromJson(x)]));
}

/** A FEEL value as JSON; temporal values in ISO 8601, ranges and functions as FEEL text, records by their id. */
export function toJson(v: Value): unknown {
  if (v === null || v === undefined) return null;
  if (typeof v === 'boolean' || typeof v === 'string') return v;
  if (typeof v === 'number') return Number.isFinite(v) ? v : null;
  if (Array.isArray(v)) return v.map(toJson);
  if (v instanceof CalendarDate) return dateText(v);
  if (v instanceof DateTime) return dateTimeText(v);
  if (v instanceof ClockTime) return timeText(v);
  if (v instanceof DaysDuration || v instanceof MonthsDuration) return durationText(v);
  if (v instanceof RecordValue) return v.id;
  if (v instanceof Range || v instanceof FunctionValue) return literal(v);
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, toJson(x)]));
}

/** The type of a value at hand. */
export function typeOfValue(v: Value): Type {
  if (v === null) return NULL;
  if (typeof v === 'boolean') return BOOLEAN;
  if (typeof v === 'number') return NUMBER;
  if (typeof v === 'string') return TEXT;
  if (Array.isArray(v)) return listOf(v.length ? v.map(typeOfValue).reduce(union, NULL) : ANY);
  if (v instanceof CalendarDate) return DATE;
  if (v instanceof DateTime) return DATETIME;
  if (v instanceof ClockTime) return TIME;
  if (v instanceof DaysDuration) return DAYS;
  if (v instanceof MonthsDuration) return MONTHS;
  if (v instanceof Range) return { k: 'range', of: typeOfValue(v.start ?? v.end) };
  if (v instanceof FunctionValue) return { k: 'function', returns: ANY };
  if (v instanceof RecordValue) return { k: 'record', table: v.tableId };
  return { k: 'context', entries: Object.fromEntries(Object.entries(v).map(([k, x]) => [k, typeOfValue(x)])) };
}
