import type { Field } from '../tables/schema.ts';
import { civil, parts, weekday } from '../formula/temporal.ts';
import { fix } from '../formula/number.ts';
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
// Four-figure numbers carry no mark, so that years read as years; small ones keep their first digits.
const large = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 4, useGrouping: 'min2' as unknown as boolean });
const small = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 4 });
const numbers = { format: (n: number): string => (Math.abs(n) >= 1 || n === 0 ? large : small).format(n) };
const cents = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const fixedFormats = new Map<number, Intl.NumberFormat>();
/** A number with so many digits behind the point. */
function fixedNumber(n: number, decimals: number): string {
  let format = fixedFormats.get(decimals);
  if (!format) {
    format = new Intl.NumberFormat('en-GB', {
      minimumFractionDigits: decimals,
      maximumFractionDigits: decimals,
      useGrouping: 'min2' as unknown as boolean,
    });
    fixedFormats.set(decimals, format);
  }
  return format.format(n);
}
const two = (n: number): string => String(n).padStart(2, '0');

/** A date as "Mon 23 Nov 2026". */
export function dateWords(d: CalendarDate): string {
  const c = civil(d.day);
  return `${WEEKDAYS[weekday(d) - 1]} ${c.day} ${MONTHS[c.month - 1]} ${c.year}`;
}

const clockWords = (t: ClockTime): string =>
  `${two(Math.floor(t.ms / 3_600_000))}:${two(Math.floor(t.ms / 60_000) % 60)}`;

const some = (n: number, unit: string): string => `${numbers.format(n)} ${unit}${Math.abs(n) === 1 ? '' : 's'}`;

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
  if (h === 0) return some(sign * m, 'minute');
  return m ? `${some(sign * h, 'hour')} ${some(m, 'minute')}` : some(sign * h, 'hour');
}

/** A days and time duration with nothing left out, as it is written into a form: "8 d 3 h 20 min". */
export function exactDuration(d: DaysDuration): string {
  const seconds = Math.abs(d.ms) / 1000;
  const parts: [number, string][] = [
    [Math.floor(seconds / 86_400), 'd'],
    [Math.floor(seconds / 3600) % 24, 'h'],
    [Math.floor(seconds / 60) % 60, 'min'],
    [fix(seconds % 60), 's'],
  ];
  const words = parts.filter(([n]) => n !== 0).map(([n, unit]) => `${n} ${unit}`);
  return words.length ? `${d.ms < 0 ? '-' : ''}${words.join(' ')}` : '0 min';
}

/** A value as people read it, in the format of its field where there is one. Nothing is an empty text. */
export function display(v: Value, field?: Pick<Field, 'unit' | 'type' | 'decimals'>): string {
  if (v === null || v === undefined) return '';
  if (typeof v === 'string') return v.startsWith('data:') ? fileName(v) : v;
  if (typeof v === 'number' && field?.type === 'percent')
    return `${field.decimals === undefined ? numbers.format(fix(v * 100)) : fixedNumber(fix(v * 100), field.decimals)} %`;
  if (typeof v === 'number' && field?.type === 'money')
    return `${v < 0 ? '-' : ''}${field.unit ?? '€'}${cents.format(Math.abs(v))}`;
  if (typeof v === 'number') {
    const shown = field?.decimals === undefined ? numbers.format(v) : fixedNumber(v, field.decimals);
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

/** What a kept file is called: the name in its data address, or what kind of thing it is. */
export function fileName(address: string): string {
  const name = /^data:[^,]*?;name=([^;,]+)/.exec(address)?.[1];
  if (name) {
    try {
      return decodeURIComponent(name);
    } catch {
      return name;
    }
  }
  return address.startsWith('data:image/') ? 'photo' : address.startsWith('data:audio/') ? 'sound' : 'file';
}
