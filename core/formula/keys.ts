import { CalendarDate, ClockTime, DateTime, DaysDuration, MonthsDuration, RecordValue, type Value } from './values.ts';

const UTC = (offset: number | null): number => (offset ?? 0) * 60_000;

/**
 * A text that two values share exactly when they are equal (as `equal` in values.ts has it), so that they are found by
 * hash. Undefined for lists, contexts, ranges and functions, which have none.
 */
export function keyOf(v: Value): string | undefined {
  switch (typeof v) {
    case 'string':
      return `t${v}`;
    case 'number':
      return Number.isNaN(v) ? undefined : `n${v === 0 ? 0 : v}`;
    case 'boolean':
      return v ? 'yes' : 'no';
  }
  if (v === null || v === undefined) return 'none';
  if (v instanceof RecordValue) return `r${v.id}`;
  if (v instanceof CalendarDate) return `d${v.day}`;
  if (v instanceof DateTime) return `${v.offset === null ? 'l' : 'i'}${v.instant}`;
  if (v instanceof ClockTime) return `${v.offset === null ? 'c' : 'C'}${v.ms - UTC(v.offset)}`;
  if (v instanceof DaysDuration) return `D${v.ms}`;
  if (v instanceof MonthsDuration) return `M${v.months}`;
  return undefined;
}

/** A value that can be put in order: those of one kind compare by their rank. Undefined for the others. */
export function rankOf(v: Value): { kind: string; rank: number | string } | undefined {
  if (typeof v === 'number') return Number.isNaN(v) ? undefined : { kind: 'number', rank: v };
  if (typeof v === 'string') return { kind: 'text', rank: v };
  if (v instanceof CalendarDate) return { kind: 'date', rank: v.day };
  if (v instanceof DateTime) return { kind: 'datetime', rank: v.instant };
  if (v instanceof ClockTime) return { kind: 'time', rank: v.ms - UTC(v.offset) };
  if (v instanceof DaysDuration) return { kind: 'days', rank: v.ms };
  if (v instanceof MonthsDuration) return { kind: 'months', rank: v.months };
  return undefined;
}
