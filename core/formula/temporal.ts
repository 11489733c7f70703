import { onClock } from './zones.ts';
import { CalendarDate, ClockTime, DateTime, DaysDuration, MonthsDuration, type Value } from './values.ts';

const DAY = 86_400_000;

/** Days from 1970-01-01 to a proleptic Gregorian date (H. Hinnant, "chrono-compatible low-level date algorithms"). */
export function dayNumber(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yoe = y - era * 400;
  const doy = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return era * 146097 + yoe * 365 + Math.floor(yoe / 4) - Math.floor(yoe / 100) + doy - 719468;
}

/** Year, month and day of a day number; the inverse of {@link dayNumber}. */
export function civil(days: number): { year: number; month: number; day: number } {
  const z = days + 719468;
  const era = Math.floor(z / 146097);
  const doe = z - era * 146097;
  const yoe = Math.floor((doe - Math.floor(doe / 1460) + Math.floor(doe / 36524) - Math.floor(doe / 146096)) / 365);
  const doy = doe - (365 * yoe + Math.floor(yoe / 4) - Math.floor(yoe / 100));
  const mp = Math.floor((5 * doy + 2) / 153);
  const month = mp < 10 ? mp + 3 : mp - 9;
  return { year: yoe + era * 400 + (month <= 2 ? 1 : 0), month, day: doy - Math.floor((153 * mp + 2) / 5) + 1 };
}

export const daysInMonth = (year: number, month: number): number =>
  dayNumber(month === 12 ? year + 1 : year, month === 12 ? 1 : month + 1, 1) - dayNumber(year, month, 1);

/** A date, or null when there is no such day. */
export function makeDate(year: number, month: number, day: number): CalendarDate | null {
  if (![year, month, day].every(Number.isInteger) || Math.abs(year) > 999_999_999) return null;
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
  return new CalendarDate(dayNumber(year, month, day));
}

const DATE = /^(-?(?:\d{4}|[1-9]\d{4,8}))-(\d{2})-(\d{2})$/;
const TIME = /^T?(\d{2}):(\d{2})(?::(\d{2})(\.\d+)?)?(Z|z|[+-]\d{2}:\d{2}(?::\d{2})?|@[A-Za-z_+\-/0-9]+)?$/;
const DURATION = /^(-)?P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)(\.\d+)?S)?)?$/;

export function parseDate(text: string): CalendarDate | null {
  const m = DATE.exec(text.trim());
  return m ? makeDate(Number(m[1]), Number(m[2]), Number(m[3])) : null;
}

export function parseTime(text: string): ClockTime | null {
  const m = TIME.exec(text.trim());
  if (!m) return null;
  const [h, min, s] = [Number(m[1]), Number(m[2]), Number(m[3] ?? 0)];
  if (h > 24 || min > 59 || s > 59 || (h === 24 && (min || s))) return null;
  const ms = ((h % 24) * 3600 + min * 60 + s) * 1000 + Math.floor(Number(`0${m[4] ?? '.0'}`) * 1000 + 1e-9);
  const zone = m[5];
  if (!zone) return new ClockTime(ms);
  if (zone.startsWith('@')) {
    // Without a date it is the offset of the first day that is counted.
    const at = onClock(ms, zone.slice(1));
    return at && new ClockTime(ms, at.offset, zone.slice(1));
  }
  const offset = parseOffset(zone);
  return offset === null ? null : new ClockTime(ms, offset);
}

function parseOffset(text: string): number | null {
  if (/^z$/i.test(text)) return 0;
  const [h, m, s = 0] = text.slice(1).split(':').map(Number) as [number, number, number?];
  if (h > 18 || m > 59 || s > 59) return null;
  return (text.startsWith('-') ? -1 : 1) * (h * 60 + m + s / 60);
}

export function parseDateTime(text: string): DateTime | null {
  const at = text.trim().indexOf('T');
  if (at < 0) {
    const d = parseDate(text);
    return d && new DateTime(d.day * DAY);
  }
  const date = parseDate(text.trim().slice(0, at));
  const time = parseTime(text.trim().slice(at + 1));
  if (
    !date ||
    !time ||
    text
      .trim()
      .slice(at + 1)
      .startsWith('T')
  )
    return null;
  // Midnight at the end of a day is that of the next (ISO 8601).
  const isEnd = text
    .trim()
    .slice(at + 1)
    .startsWith('24:');
  return combine(isEnd ? new CalendarDate(date.day + 1) : date, time);
}

/** A day and a time of it; null when its zone is none. */
export function combine(date: CalendarDate, time: ClockTime): DateTime | null {
  const ms = date.day * DAY + time.ms;
  return time.zone ? onClock(ms, time.zone) : new DateTime(ms, time.offset);
}

export function parseDuration(text: string): DaysDuration | MonthsDuration | null {
  const t = text.trim();
  const m = DURATION.exec(t);
  if (!m || /[PT]$/.test(t)) return null;
  const [, minus, y, mo, w, d, h, mi, s, frac] = m;
  const sign = minus ? -1 : 1;
  const yearly = y !== undefined || mo !== undefined;
  const daily = [w, d, h, mi, s].some((x) => x !== undefined);
  if (yearly && daily) return null;
  const n = (x: string | undefined): number => Number(x ?? 0);
  if (yearly) return new MonthsDuration(sign * (n(y) * 12 + n(mo)) || 0);
  const ms =
    ((n(w) * 7 + n(d)) * 86400 + n(h) * 3600 + n(mi) * 60 + n(s)) * 1000 +
    Math.round(Number(`0${frac ?? '.0'}`) * 1000);
  return new DaysDuration(sign * ms || 0);
}

/** Reads the text of an `@"…"` literal as whichever temporal value it spells; null when none. */
export function parseTemporal(text: string): Value {
  if (/^-?P/.test(text)) return parseDuration(text);
  if (/^T?\d{2}:/.test(text)) return parseTime(text);
  return text.includes('T') ? parseDateTime(text) : parseDate(text);
}

const two = (n: number): string => String(n).padStart(2, '0');

export function dateText(d: CalendarDate): string {
  const c = civil(d.day);
  const y = String(Math.abs(c.year)).padStart(4, '0');
  return `${c.year < 0 ? '-' : ''}${y}-${two(c.month)}-${two(c.day)}`;
}

function offsetText(offset: number | null, zone: string | null): string {
  if (zone) return `@${zone}`;
  if (offset === null) return '';
  if (offset === 0) return 'Z';
  const seconds = Math.round(Math.abs(offset) * 60);
  const rest = seconds % 60 ? `:${two(seconds % 60)}` : '';
  return `${offset < 0 ? '-' : '+'}${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}${rest}`;
}

export function timeText(t: ClockTime): string {
  const s = Math.floor(t.ms / 1000);
  const ms = t.ms % 1000;
  const fraction = ms ? `.${String(ms).padStart(3, '0').replace(/0+$/, '')}` : '';
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}${fraction}${offsetText(t.offset, t.zone)}`;
}

/** The calendar day and the time of day of a date and time. */
export function parts(dt: DateTime): { date: CalendarDate; time: ClockTime } {
  const day = Math.floor(dt.ms / DAY);
  return { date: new CalendarDate(day), time: new ClockTime(dt.ms - day * DAY, dt.offset, dt.zone) };
}

export function dateTimeText(dt: DateTime): string {
  const p = parts(dt);
  return `${dateText(p.date)}T${timeText(p.time)}`;
}

export function durationText(d: DaysDuration | MonthsDuration): string {
  if (d instanceof MonthsDuration) {
    const a = Math.abs(d.months);
    const [y, m] = [Math.floor(a / 12), a % 12];
    return a === 0 ? 'P0M' : `${d.months < 0 ? '-' : ''}P${y ? `${y}Y` : ''}${m ? `${m}M` : ''}`;
  }
  const a = Math.abs(d.ms);
  if (a === 0) return 'PT0S';
  const days = Math.floor(a / DAY);
  const [h, m, s] = [Math.floor(a / 3_600_000) % 24, Math.floor(a / 60_000) % 60, (a % 60_000) / 1000];
  const time = `${h ? `${h}H` : ''}${m ? `${m}M` : ''}${s ? `${s}S` : ''}`;
  return `${d.ms < 0 ? '-' : ''}P${days ? `${days}D` : ''}${time ? `T${time}` : ''}`;
}

/** Adds months to a date, staying on the last day of a shorter month. */
export function addMonths(d: CalendarDate, months: number): CalendarDate {
  const c = civil(d.day);
  const total = c.year * 12 + (c.month - 1) + months;
  const [year, month] = [Math.floor(total / 12), (((total % 12) + 12) % 12) + 1];
  return new CalendarDate(dayNumber(year, month, Math.min(c.day, daysInMonth(year, month))));
}

/** Whole months from one day to another, as `years and months duration` counts them. */
export function monthsBetween(from: CalendarDate, to: CalendarDate): number {
  const [a, b] = [civil(from.day), civil(to.day)];
  let months = (b.year - a.year) * 12 + b.month - a.month;
  if (months > 0 && b.day < a.day) months--;
  else if (months < 0 && b.day > a.day) months++;
  return months || 0;
}

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** 1 for Monday to 7 for Sunday (ISO 8601). */
export const weekday = (d: CalendarDate): number => ((((d.day + 3) % 7) + 7) % 7) + 1;
export const weekdayName = (d: CalendarDate): string => WEEKDAYS[weekday(d) - 1]!;
export const monthName = (d: CalendarDate): string => MONTHS[civil(d.day).month - 1]!;
export const dayOfYear = (d: CalendarDate): number => d.day - dayNumber(civil(d.day).year, 1, 1) + 1;

/** ISO 8601 week number. */
export function weekOfYear(d: CalendarDate): number {
  const thursday = new CalendarDate(d.day + 4 - weekday(d));
  return Math.floor((dayOfYear(thursday) - 1) / 7) + 1;
}

/** A property such as `year` or `hours`; undefined when the value has no such property. */
export function property(v: Value, name: string): Value | undefined {
  if (v instanceof CalendarDate || v instanceof DateTime) {
    const date = v instanceof DateTime ? parts(v).date : v;
    const c = civil(date.day);
    if (name === 'year') return c.year;
    if (name === 'month') return c.month;
    if (name === 'day') return c.day;
    if (name === 'weekday') return weekday(date);
  }
  if (v instanceof DateTime || v instanceof ClockTime) {
    const t = v instanceof DateTime ? parts(v).time : v;
    if (name === 'hour') return Math.floor(t.ms / 3_600_000);
    if (name === 'minute') return Math.floor(t.ms / 60_000) % 60;
    if (name === 'second') return Math.floor(t.ms / 1000) % 60;
    if (name === 'time offset') return t.offset === null ? null : new DaysDuration(t.offset * 60_000);
    if (name === 'timezone') return t.zone;
    if (v instanceof DateTime && name === 'date') return parts(v).date;
    if (v instanceof DateTime && name === 'time') return t;
  }
  if (v instanceof DaysDuration) {
    const at = Math.trunc;
    if (name === 'days') return at(v.ms / DAY) || 0;
    if (name === 'hours') return at(v.ms / 3_600_000) % 24 || 0;
    if (name === 'minutes') return at(v.ms / 60_000) % 60 || 0;
    if (name === 'seconds') return at(v.ms / 1000) % 60 || 0;
  }
  if (v instanceof MonthsDuration) {
    if (name === 'years') return Math.trunc(v.months / 12) || 0;
    if (name === 'months') return v.months % 12 || 0;
  }
  return undefined;
}
