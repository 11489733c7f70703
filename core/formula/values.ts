/** The values formulas work with. Absent is `null`; text, numbers and yes/no are JavaScript's own. */

/** A calendar day, counted from 1970-01-01. */
export class CalendarDate {
  constructor(readonly day: number) {}
}

/** A time of day in milliseconds from midnight, with an optional offset (minutes) or IANA zone. */
export class ClockTime {
  constructor(
    readonly ms: number,
    readonly offset: number | null = null,
    readonly zone: string | null = null,
  ) {}
}

/** A date and time: the wall clock in milliseconds from 1970-01-01, with an optional offset (minutes) or zone. */
export class DateTime {
  constructor(
    readonly ms: number,
    readonly offset: number | null = null,
    readonly zone: string | null = null,
  ) {}
  /** Milliseconds of the instant in UTC; a local date and time is read as if it were UTC. */
  get instant(): number {
    return this.ms - (this.offset ?? 0) * 60_000;
  }
}

/** A days and time duration in milliseconds. */
export class DaysDuration {
  constructor(readonly ms: number) {}
}

/** A years and months duration in months. */
export class MonthsDuration {
  constructor(readonly months: number) {}
}

/** A range; an end of `null` is open. */
export class Range {
  constructor(
    readonly start: Value,
    readonly end: Value,
    readonly startIncluded: boolean,
    readonly endIncluded: boolean,
  ) {}
}

/** A function value: a definition in a formula, or a built-in passed by name. */
export class FunctionValue {
  constructor(
    readonly params: string[],
    readonly call: (args: Value[]) => Value,
  ) {}
}

/** What a formula sees of a record. The records engine's rows extend it. */
export abstract class RecordValue {
  abstract readonly id: string;
  abstract readonly tableId: string;
  /** Reads a field by its name or id when its place could not be settled beforehand. */
  abstract get(name: string): Value;
  abstract title(): string;
  /** Is it the record of a person, known by this name or mail address? */
  isPerson(_name: string): boolean {
    return false;
  }
}

export interface Context {
  [key: string]: Value;
}

export type Value =
  | null
  | boolean
  | number
  | string
  | CalendarDate
  | ClockTime
  | DateTime
  | DaysDuration
  | MonthsDuration
  | Range
  | FunctionValue
  | RecordValue
  | Value[]
  | Context;

const CLASSES = [CalendarDate, ClockTime, DateTime, DaysDuration, MonthsDuration, Range, FunctionValue, RecordValue];

/** True for a plain context, as `{a: 1}` makes it. */
export function isContext(v: Value): v is Context {
  return typeof v === 'object' && v !== null && !Array.isArray(v) && !CLASSES.some((c) => v instanceof c);
}

/** An empty context without a prototype, so that any key is only data. */
export function newContext(entries: Iterable<[string, Value]> = []): Context {
  const c = Object.create(null) as Context;
  for (const [k, v] of entries) c[k] = v;
  return c;
}

export type Kind =
  | 'null'
  | 'boolean'
  | 'number'
  | 'text'
  | 'date'
  | 'time'
  | 'datetime'
  | 'days'
  | 'months'
  | 'range'
  | 'function'
  | 'record'
  | 'list'
  | 'context';

/** The kind of a value at run time. */
export function kindOf(v: Value): Kind {
  if (v === null || v === undefined) return 'null';
  switch (typeof v) {
    case 'boolean':
      return 'boolean';
    case 'number':
      return 'number';
    case 'string':
      return 'text';
  }
  if (Array.isArray(v)) return 'list';
  if (v instanceof CalendarDate) return 'date';
  if (v instanceof DateTime) return 'datetime';
  if (v instanceof ClockTime) return 'time';
  if (v instanceof DaysDuration) return 'days';
  if (v instanceof MonthsDuration) return 'months';
  if (v instanceof Range) return 'range';
  if (v instanceof FunctionValue) return 'function';
  if (v instanceof RecordValue) return 'record';
  return 'context';
}

/** Equality by the FEEL standard: null when the kinds differ, else yes or no. */
export function equal(a: Value, b: Value): boolean | null {
  if (a === b) return true;
  if (a === null || b === null || a === undefined || b === undefined) return (a ?? null) === (b ?? null);
  const k = kindOf(a);
  if (k !== kindOf(b)) return null;
  switch (k) {
    case 'date':
      return (a as CalendarDate).day === (b as CalendarDate).day;
    case 'datetime': {
      const x = a as DateTime,
        y = b as DateTime;
      return x.instant === y.instant && (x.offset === null) === (y.offset === null);
    }
    case 'time': {
      const x = a as ClockTime,
        y = b as ClockTime;
      return (
        x.ms - (x.offset ?? 0) * 60_000 === y.ms - (y.offset ?? 0) * 60_000 &&
        (x.offset === null) === (y.offset === null)
      );
    }
    case 'days':
      return (a as DaysDuration).ms === (b as DaysDuration).ms;
    case 'months':
      return (a as MonthsDuration).months === (b as MonthsDuration).months;
    case 'record':
      return (a as RecordValue).id === (b as RecordValue).id;
    case 'range': {
      const x = a as Range,
        y = b as Range;
      return (
        x.startIncluded === y.startIncluded &&
        x.endIncluded === y.endIncluded &&
        equal(x.start, y.start) === true &&
        equal(x.end, y.end) === true
      );
    }
    case 'list': {
      const x = a as Value[],
        y = b as Value[];
      return x.length === y.length && x.every((v, i) => equal(v, y[i]!) === true);
    }
    case 'context': {
      const x = a as Context,
        y = b as Context;
      const keys = Object.keys(x);
      return keys.length === Object.keys(y).length && keys.every((key) => key in y && equal(x[key]!, y[key]!) === true);
    }
    default:
      return false;
  }
}

/** Order of two values of one kind: negative, zero or positive; null when they cannot be compared. */
export function compare(a: Value, b: Value): number | null {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (typeof a === 'string' && typeof b === 'string') return a < b ? -1 : a > b ? 1 : 0;
  if (a instanceof CalendarDate && b instanceof CalendarDate) return a.day - b.day;
  if (a instanceof DateTime && b instanceof DateTime) return a.instant - b.instant;
  if (a instanceof ClockTime && b instanceof ClockTime) {
    return a.ms - (a.offset ?? 0) * 60_000 - (b.ms - (b.offset ?? 0) * 60_000);
  }
  if (a instanceof DaysDuration && b instanceof DaysDuration) return a.ms - b.ms;
  if (a instanceof MonthsDuration && b instanceof MonthsDuration) return a.months - b.months;
  return null;
}

/** Is the value inside the range? Null when they cannot be compared. */
export function inRange(v: Value, r: Range): boolean | null {
  if (r.start !== null) {
    const c = compare(v, r.start);
    if (c === null) return null;
    if (c < 0 || (c === 0 && !r.startIncluded)) return false;
  }
  if (r.end !== null) {
    const c = compare(v, r.end);
    if (c === null) return null;
    if (c > 0 || (c === 0 && !r.endIncluded)) return false;
  }
  return true;
}
