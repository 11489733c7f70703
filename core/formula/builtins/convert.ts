import { BOOLEAN, DATE, DATETIME, MONTHS, NUMBER, TIME, ANY } from '../types.ts';
import { numberText } from '../number.ts';
import {
  combine,
  dateText,
  dateTimeText,
  durationText,
  makeDate,
  monthsBetween,
  parseDate,
  parseDateTime,
  parseDuration,
  parseTime,
  parts,
  timeText,
} from '../temporal.ts';
import { inZone, onClock } from '../zones.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  FunctionValue,
  MonthsDuration,
  Range,
  RecordValue,
  type Value,
} from '../values.ts';
import { define } from './define.ts';

/** Text of a value as `string()` gives it: ISO 8601 for temporal values, FEEL for lists and contexts; null for null. */
export function toText(v: Value): string | null {
  if (v === null) return null;
  return typeof v === 'string' ? v : literal(v);
}

/** A value written as FEEL. */
export function literal(v: Value): string {
  if (v === null || v === undefined) return 'null';
  if (typeof v === 'string') return `"${v.replace(/\\/g, '\\\\').replace(/"/g, '\\"').replace(/\n/g, '\\n')}"`;
  if (typeof v === 'number') return numberText(v);
  if (typeof v === 'boolean') return String(v);
  if (Array.isArray(v)) return `[${v.map(literal).join(', ')}]`;
  if (v instanceof CalendarDate) return dateText(v);
  if (v instanceof DateTime) return dateTimeText(v);
  if (v instanceof ClockTime) return timeText(v);
  if (v instanceof DaysDuration || v instanceof MonthsDuration) return durationText(v);
  if (v instanceof RecordValue) return v.title();
  if (v instanceof FunctionValue) return `function(${v.params.join(', ')})`;
  if (v instanceof Range) {
    return `${v.startIncluded ? '[' : '('}${literal(v.start)}..${literal(v.end)}${v.endIncluded ? ']' : ')'}`;
  }
  return `{${Object.entries(v)
    .map(([k, x]) => `${/^[\p{L}_][\p{L}\p{N}_ ]*$/u.test(k) ? k : literal(k)}: ${literal(x)}`)
    .join(', ')}}`;
}

/** A number from text with the given grouping and decimal signs; null when the text is something else. */
export function readNumber(text: string, group: string | null, decimal: string | null): number | null {
  let s = text.trim();
  if (group === decimal && group !== null) return null;
  if (group !== null && ![' ', ',', '.', "'"].includes(group)) return null;
  if (decimal !== null && ![',', '.'].includes(decimal)) return null;
  if (group) s = s.split(group).join('');
  if (decimal && decimal !== '.') s = s.replace(decimal, '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(s) ? Number(s) : null;
}

const dateOf = (v: CalendarDate | DateTime): CalendarDate => (v instanceof DateTime ? parts(v).date : v);

function asDateTime(v: Value): DateTime | null {
  if (typeof v === 'string') return parseDateTime(v);
  if (v instanceof CalendarDate) return new DateTime(v.day * 86_400_000);
  return v instanceof DateTime ? v : null;
}

/** From year, month, day, hour, minute and second, with an offset or the name of a zone behind them. */
function dateTimeOf([year, month, day, hour, minute, second, where]: Value[]): DateTime | null {
  const time = [hour, minute, second];
  if (![year, month, day, ...time].every((n) => typeof n === 'number')) return null;
  const date = makeDate(year as number, month as number, day as number);
  const [h, min, s] = time as [number, number, number];
  if (!date || ![h, min].every(Number.isInteger) || h < 0 || h > 23 || min < 0 || min > 59 || s < 0 || s >= 60)
    return null;
  const ms = date.day * 86_400_000 + Math.floor((h * 3600 + min * 60 + s) * 1000 + 1e-6);
  if (typeof where === 'string') return onClock(ms, where);
  return new DateTime(ms, where instanceof DaysDuration ? where.ms / 60_000 : null);
}

export const CONVERSION_FUNCTIONS = [
  define(
    'number',
    'from: any, grouping separator?: text, decimal separator?: text',
    NUMBER,
    (from: Value, g: string | null, d: string | null) =>
      typeof from === 'number' ? from : typeof from === 'string' ? readNumber(from, g, d) : null,
  ),
  define(
    'date',
    'from|year: any, month?: number, day?: number',
    DATE,
    (a: Value, month: number | null, day: number | null) => {
      if (typeof a === 'number') return month === null || day === null ? null : makeDate(a, month, day);
      if (typeof a === 'string')
        return parseDate(a) ?? (a.includes('T') ? ((dt) => dt && parts(dt).date)(parseDateTime(a)) : null);
      return a instanceof CalendarDate || a instanceof DateTime ? dateOf(a) : null;
    },
  ),
  define(
    'time',
    'from|hour: any, minute?: number, second?: number, offset?: days',
    TIME,
    (a: Value, min: number | null, s: number | null, offset: DaysDuration | null) => {
      if (typeof a === 'number') {
        if (min === null || s === null || a < 0 || a > 23 || min < 0 || min > 59 || s < 0 || s >= 60) return null;
        return new ClockTime(Math.round((a * 3600 + min * 60 + s) * 1000), offset ? offset.ms / 60_000 : null);
      }
      if (typeof a === 'string')
        return parseTime(a) ?? (a.includes('T') ? ((dt) => dt && parts(dt).time)(parseDateTime(a)) : null);
      if (a instanceof DateTime) return parts(a).time;
      if (a instanceof CalendarDate) return new ClockTime(0, 0);
      return a instanceof ClockTime ? a : null;
    },
  ),
  define(
    'date and time',
    'date|from|year: any, time|month?: any, day?: number, hour?: number, minute?: number, second?: number, offset|timezone?: any',
    DATETIME,
    (a: Value, b: Value, ...rest: Value[]) => {
      if (typeof a === 'number') return dateTimeOf([a, b, ...rest]);
      if (rest.some((x) => x !== null)) return null;
      if (b === null) return asDateTime(a);
      // What has a zone or offset is the same instant elsewhere; what has none is a time there.
      if (typeof b === 'string' && a instanceof DateTime)
        return a.offset === null ? onClock(a.ms, b) : inZone(a.instant, b);
      return (a instanceof CalendarDate || a instanceof DateTime) && b instanceof ClockTime
        ? combine(dateOf(a), b)
        : null;
    },
  ),
  define('duration', 'from: any', ANY, (v: Value) => {
    if (v instanceof DaysDuration || v instanceof MonthsDuration) return v;
    return typeof v === 'string' ? parseDuration(v) : null;
  }),
  define(
    'years and months duration',
    'from: dated, to: dated',
    MONTHS,
    (a: CalendarDate | DateTime, b: CalendarDate | DateTime) => new MonthsDuration(monthsBetween(dateOf(a), dateOf(b))),
  ),
  define('not', 'negand: any', BOOLEAN, (v: Value) => (typeof v === 'boolean' ? !v : null)),
];
