import { bounded } from './budget.ts';
import { add, divide, multiply, power, subtract } from './number.ts';
import { addMonths, parts } from './temporal.ts';
import { inZone, onClock } from './zones.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  MonthsDuration,
  Range,
  compare,
  equal,
  inRange,
  type Value,
} from './values.ts';

/** Two texts as one, which may not grow without end. */
export const joined = (a: string, b: string): string => (a.length + b.length < 4096 ? a + b : bounded(a + b));

const DAY = 86_400_000;
const wrap = (ms: number): number => ((ms % DAY) + DAY) % DAY;

function shiftMonths(v: CalendarDate | DateTime, months: number): CalendarDate | DateTime {
  if (v instanceof CalendarDate) return addMonths(v, months);
  const p = parts(v);
  const wall = addMonths(p.date, months).day * DAY + p.time.ms;
  // The same time of day, whatever the clocks of the zone have done meanwhile.
  return (v.zone && onClock(wall, v.zone)) || new DateTime(wall, v.offset, v.zone);
}

function shiftMs(v: CalendarDate | DateTime | ClockTime, ms: number): Value {
  // So much later on the clock of a zone is what it shows then: clocks change in spring and autumn.
  if (v instanceof DateTime)
    return (v.zone && inZone(v.instant + ms, v.zone)) || new DateTime(v.ms + ms, v.offset, v.zone);
  if (v instanceof ClockTime) return new ClockTime(wrap(v.ms + ms), v.offset, v.zone);
  return ms % DAY === 0 ? new CalendarDate(v.day + ms / DAY) : new CalendarDate(v.day + Math.floor(ms / DAY));
}

const isTemporal = (v: Value): v is CalendarDate | DateTime | ClockTime =>
  v instanceof CalendarDate || v instanceof DateTime || v instanceof ClockTime;

/** `+` for any two values; null where FEEL knows no sum. */
export function plus(a: Value, b: Value): Value {
  if (typeof a === 'number' && typeof b === 'number') return add(a, b);
  if (typeof a === 'string' && typeof b === 'string') return joined(a, b);
  if (a instanceof DaysDuration) {
    if (b instanceof DaysDuration) return new DaysDuration(a.ms + b.ms);
    return isTemporal(b) ? shiftMs(b, a.ms) : null;
  }
  if (a instanceof MonthsDuration) {
    if (b instanceof MonthsDuration) return new MonthsDuration(a.months + b.months);
    return b instanceof CalendarDate || b instanceof DateTime ? shiftMonths(b, a.months) : null;
  }
  return isTemporal(a) && (b instanceof DaysDuration || b instanceof MonthsDuration) ? plus(b, a) : null;
}

const asDateTime = (v: CalendarDate | DateTime): DateTime => (v instanceof DateTime ? v : new DateTime(v.day * DAY));

/** `-` for any two values. A date minus a date is a days and time duration. */
export function minus(a: Value, b: Value): Value {
  if (typeof a === 'number' && typeof b === 'number') return subtract(a, b);
  if (b instanceof DaysDuration) {
    if (a instanceof DaysDuration) return new DaysDuration(a.ms - b.ms);
    return isTemporal(a) ? shiftMs(a, -b.ms) : null;
  }
  if (b instanceof MonthsDuration) {
    if (a instanceof MonthsDuration) return new MonthsDuration(a.months - b.months);
    return a instanceof CalendarDate || a instanceof DateTime ? shiftMonths(a, -b.months) : null;
  }
  if (a instanceof ClockTime && b instanceof ClockTime) {
    return new DaysDuration(a.ms - (a.offset ?? 0) * 60_000 - (b.ms - (b.offset ?? 0) * 60_000));
  }
  if ((a instanceof CalendarDate || a instanceof DateTime) && (b instanceof CalendarDate || b instanceof DateTime)) {
    return new DaysDuration(asDateTime(a).instant - asDateTime(b).instant);
  }
  return null;
}

export function times(a: Value, b: Value): Value {
  if (typeof a === 'number') {
    if (typeof b === 'number') return multiply(a, b);
    if (b instanceof DaysDuration) return new DaysDuration(Math.trunc(a * b.ms));
    if (b instanceof MonthsDuration) return new MonthsDuration(Math.trunc(a * b.months));
    return null;
  }
  return typeof b === 'number' && (a instanceof DaysDuration || a instanceof MonthsDuration) ? times(b, a) : null;
}

export function over(a: Value, b: Value): Value {
  if (typeof a === 'number') return typeof b === 'number' ? divide(a, b) : null;
  if (a instanceof DaysDuration) {
    if (typeof b === 'number') return b === 0 ? null : new DaysDuration(Math.trunc(a.ms / b));
    return b instanceof DaysDuration ? divide(a.ms, b.ms) : null;
  }
  if (a instanceof MonthsDuration) {
    if (typeof b === 'number') return b === 0 ? null : new MonthsDuration(Math.trunc(a.months / b));
    return b instanceof MonthsDuration ? divide(a.months, b.months) : null;
  }
  return null;
}

export const raise = (a: Value, b: Value): Value =>
  typeof a === 'number' && typeof b === 'number' ? power(a, b) : null;

export function negate(a: Value): Value {
  if (typeof a === 'number') return a === 0 ? 0 : -a;
  if (a instanceof DaysDuration) return new DaysDuration(-a.ms || 0);
  return a instanceof MonthsDuration ? new MonthsDuration(-a.months || 0) : null;
}

/** One ordering test; null when the two cannot be compared. */
export function test(op: '<' | '<=' | '>' | '>=' | '=' | '!=', a: Value, b: Value): boolean | null {
  if (op === '=') return equal(a, b);
  if (op === '!=') {
    const e = equal(a, b);
    return e === null ? null : !e;
  }
  const c = compare(a, b);
  if (c === null) return null;
  return op === '<' ? c < 0 : op === '<=' ? c <= 0 : op === '>' ? c > 0 : c >= 0;
}

/** `in` against one alternative: a range holds, a list contains, anything else equals. */
export function contains(v: Value, alternative: Value): boolean | null {
  if (alternative instanceof Range) return inRange(v, alternative);
  if (Array.isArray(alternative)) {
    if (equal(v, alternative) === true) return true;
    return alternative.some((x) => (x instanceof Range ? inRange(v, x) === true : equal(v, x) === true));
  }
  return equal(v, alternative);
}

/** Three-valued logic (DMN 1.5, table 50): anything that is not yes or no counts as unknown. */
export function and(a: Value, b: Value): boolean | null {
  if (a === false || b === false) return false;
  return a === true && b === true ? true : null;
}

export function or(a: Value, b: Value): boolean | null {
  if (a === true || b === true) return true;
  return a === false && b === false ? false : null;
}
