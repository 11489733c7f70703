import type { Field } from '../tables/schema.ts';
import { civil, parts, weekday } from '../formula/temporal.ts';
import { fileName, fileType } from '../fields/kept-address.ts';
import { fixedNumber, plainNumber } from '../fields/numbers.ts';
import { fieldKind } from '../fields/kinds.ts';
import { literal } from '../formula/builtins/convert.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  MonthsDuration,
  RecordValue,
  isContext,
  type Value,
} from '../formula/values.ts';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const two = (n: number): string => String(n).padStart(2, '0');

/** A date as "Mon 23 Nov 2026". */
export function dateWords(d: CalendarDate): string {
  const c = civil(d.day);
  return `${WEEKDAYS[weekday(d) - 1]} ${c.day} ${MONTHS[c.month - 1]} ${c.year}`;
}

export const clockWords = (t: ClockTime): string =>
  `${two(Math.floor(t.ms / 3_600_000))}:${two(Math.floor(t.ms / 60_000) % 60)}`;

const some = (n: number, unit: string): string => `${plainNumber(n)} ${unit}${Math.abs(n) === 1 ? '' : 's'}`;

/** A duration in its largest fitting unit or two: "19 days", "3 hours 20 minutes". */
export function durationWords(d: DaysDuration | MonthsDuration): string {
  if (d instanceof MonthsDuration) {
    const [y, m] = [Math.trunc(d.months / 12), d.months % 12];
    return [y && some(y, 'year'), (m || !y) && some(m, 'month')].filter(Boolean).join(' ');
  }
  const sign = d.ms < 0 ? -1 : 1;
  const minutes = Math.floor(Math.abs(d.ms) / 60_000);
  const days = Math.floor(minutes / 1440);
  if (days >= 1 && (minutes % 1440 === 0 || days >= 7)) return some(sign * days, 'day');
  if (days >= 1) {
    const hours = Math.floor((minutes % 1440) / 60);
    return hours ? `${some(sign * days, 'day')} ${some(hours, 'hour')}` : some(sign * days, 'day');
  }
  const [h, m] = [Math.floor(minutes / 60), minutes % 60];
  if (h === 0 && m === 0 && d.ms !== 0) return some((sign * Math.abs(d.ms)) / 1000, 'second');
  if (h === 0) return some(sign * m, 'minute');
  return m ? `${some(sign * h, 'hour')} ${some(m, 'minute')}` : some(sign * h, 'hour');
}

/** A value as people read it, in the format of its field where there is one. Nothing is an empty text. */
export function display(v: Value, field?: Pick<Field, 'unit' | 'type' | 'decimals'>): string {
  if (v === null || v === undefined) return '';
  if (typeof v === 'string') return isKeptFile(v, field?.type) ? fileName(v) : v;
  const own = field && fieldKind(field.type).display?.(v, field);
  if (own !== undefined && own !== null) return own;
  if (typeof v === 'number') {
    const shown = field?.decimals === undefined ? plainNumber(v) : fixedNumber(v, field.decimals);
    return field?.unit ? `${shown} ${field.unit}` : shown;
  }
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (Array.isArray(v))
    return v
      .filter((x) => x !== null)
      .map((x) => display(x, field))
      .join(', ');
  if (v instanceof RecordValue) return v.title();
  if (v instanceof CalendarDate) return dateWords(v);
  if (v instanceof DateTime) {
    const p = parts(v);
    return `${dateWords(p.date)}, ${clockWords(p.time)}`;
  }
  if (v instanceof ClockTime) return clockWords(v);
  if (v instanceof DaysDuration || v instanceof MonthsDuration) return durationWords(v);
  if (isContext(v)) return placeWords(v) ?? literal(v);
  return literal(v);
}

/** A place on the earth or on a plan, as people read it; null when the context is something else. */
function placeWords(v: Record<string, Value>): string | null {
  const { latitude, longitude, x, y } = v;
  if (typeof latitude === 'number' && typeof longitude === 'number')
    return `${Math.abs(latitude).toFixed(4)}° ${latitude < 0 ? 'S' : 'N'}, ${Math.abs(longitude).toFixed(4)}° ${longitude < 0 ? 'W' : 'E'}`;
  if (typeof x === 'number' && typeof y === 'number' && Object.keys(v).length === 2)
    return `${Math.round(x * 100)} % across, ${Math.round(y * 100)} % down`;
  return null;
}

/**
 * Is a text a kept file, by its name (RFC 6920) or with its content? Only in a field that holds files, or where a
 * formula gave it: whatever people write into other fields is what they wrote, also when it looks like one.
 */
export const isKeptFile = (v: unknown, type: Field['type'] | undefined): v is string =>
  typeof v === 'string' &&
  (type === undefined || type === 'formula' || fieldKind(type).holdsFile === true) &&
  fileType(v) !== null;
