import { inZone, onClock } from '../formula/zones.ts';
import { DAYS, type Day } from './times.ts';

/** When a routine starts by the clock, as its trigger holds it. */
export interface Schedule {
  each: 'minutes' | 'hours' | 'day' | 'workday' | 'week' | 'month' | 'once';
  /** So many minutes or hours, counted from midnight. */
  every: number;
  weekday: Day;
  which: 'first' | 'second' | 'third' | 'fourth' | 'last' | 'date';
  of: 'day' | Day;
  /** The day of the month, 1 to 31; the last one where a month is shorter. */
  number: number;
  /** YYYY-MM-DD. */
  date: string;
  /** H:MM on the clock of the zone. */
  time: string;
}

const MINUTE = 60_000;
const DAY_MS = 86_400_000;
const WEEK = Object.keys(DAYS) as Day[];
const NTH = { first: 0, second: 1, third: 2, fourth: 3 } as const;
/** No schedule leaves out more days than this between two times. */
const MOST_DAYS = 62;

/** Minutes since midnight of a time such as 16:00; null for any other text. */
export function minutesOf(time: string): number | null {
  const [, h, m = '0'] = /^([01]?\d|2[0-3])(?::([0-5]\d))?$/.exec(time.trim()) ?? [];
  return h === undefined ? null : Number(h) * 60 + Number(m);
}

/** Midnight of a date such as 2026-12-24 as if it were UTC, in milliseconds; null for any other text. */
export function dayOf(date: string): number | null {
  const [, y, m, d] = /^(\d{4})-(\d\d)-(\d\d)$/.exec(date.trim()) ?? [];
  if (y === undefined) return null;
  const day = Date.UTC(Number(y), Number(m) - 1, Number(d));
  return new Date(day).toISOString().startsWith(date.trim()) ? day : null;
}

/** Why a schedule gives no time, in words; null where it does. */
export function scheduleProblem(s: Schedule): string | null {
  if (s.each === 'minutes' || s.each === 'hours') return null;
  if (minutesOf(s.time) === null) return `“${s.time}” is not a time. Type one such as 16:00.`;
  if (s.each === 'once' && dayOf(s.date) === null) return `“${s.date}” is not a date. Type one such as 2026-12-24.`;
  return null;
}

/** Monday is 0. */
const weekdayOf = (day: number): number => (new Date(day).getUTCDay() + 6) % 7;

/** Does a day (midnight as if it were UTC) belong to the schedule? */
function fits(s: Schedule, day: number): boolean {
  const weekday = weekdayOf(day);
  switch (s.each) {
    case 'workday':
      return weekday < 5;
    case 'week':
      return WEEK[weekday] === s.weekday;
    case 'once':
      return day === dayOf(s.date);
    case 'month':
      return fitsMonth(s, day, weekday);
    default:
      return true;
  }
}

function fitsMonth(s: Schedule, day: number, weekday: number): boolean {
  const at = new Date(day);
  const date = at.getUTCDate();
  const last = new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 0)).getUTCDate();
  if (s.which === 'date') return date === Math.min(s.number, last);
  if (s.of !== 'day') {
    if (WEEK[weekday] !== s.of) return false;
    return s.which === 'last' ? date + 7 > last : Math.floor((date - 1) / 7) === NTH[s.which];
  }
  return date === (s.which === 'last' ? last : NTH[s.which] + 1);
}

/**
 * The times of a day (midnight as if it were UTC) as instants. Every so many minutes, and every hour, is counted as time
 * that passes from midnight on, also through a change of clocks; all others are what the clock shows.
 */
function* instantsOf(s: Schedule, day: number, zone: string): Generator<number> {
  const passing = s.each === 'minutes' ? s.every * MINUTE : s.each === 'hours' && s.every === 1 ? 60 * MINUTE : null;
  if (passing !== null) {
    const end = onClock(day + DAY_MS, zone)!.instant;
    for (let at = onClock(day, zone)!.instant; at < end; at += passing) yield at;
    return;
  }
  if (s.each !== 'hours') yield onClock(day + minutesOf(s.time)! * MINUTE, zone)!.instant;
  else for (let h = 0; h < 24; h += s.every) yield onClock(day + h * 60 * MINUTE, zone)!.instant;
}

/**
 * The times of a schedule after an instant, up to and including another, in milliseconds since 1970, `most` at most.
 * On days when clocks change, a time that is shown twice counts once, when it comes first; a time that is left out comes
 * as much later as the clocks are moved (as ECMAScript Temporal does by default). Two times that so become one count once.
 */
export function timesBetween(s: Schedule, zone: string, after: number, upTo: number, most = Infinity): number[] {
  const found: number[] = [];
  const start = inZone(after, zone);
  if (!start || scheduleProblem(s)) return found;
  // A day early: what its clock leaves out may come on the next.
  const first = Math.floor(start.ms / DAY_MS) * DAY_MS - DAY_MS;
  const once = s.each === 'once' ? dayOf(s.date)! : null;
  if (once !== null && once < first) return found;
  let before = -Infinity;
  for (let day = once ?? first; found.length < most; day += DAY_MS) {
    if (day - 2 * DAY_MS > upTo) break;
    if (fits(s, day))
      for (const at of instantsOf(s, day, zone)) {
        if (at > upTo || found.length >= most) return found;
        if (at > before && at > after) found.push(at);
        before = Math.max(before, at);
      }
    if (once !== null) break;
  }
  return found;
}

/** The next time of a schedule after an instant; null where there is none. */
export function nextTime(s: Schedule, zone: string, after: number): number | null {
  const far = s.each === 'once' ? Infinity : after + MOST_DAYS * DAY_MS;
  return timesBetween(s, zone, after, far, 1)[0] ?? null;
}

/** "every day at 16:00", for sentences. */
export function scheduleWords(s: Partial<Schedule>): string {
  const at = `at ${s.time}`;
  switch (s.each) {
    case 'minutes':
      return s.every === 1 ? 'every minute' : `every ${s.every} minutes`;
    case 'hours':
      return s.every === 1 ? 'every hour' : `every ${s.every} hours`;
    case 'workday':
      return `Monday to Friday ${at}`;
    case 'week':
      return `every ${DAYS[s.weekday ?? 'monday']} ${at}`;
    case 'month':
      return s.which === 'date'
        ? `on day ${s.number} of every month ${at}`
        : `on the ${s.which} ${s.of === 'day' ? 'day' : DAYS[s.of ?? 'monday']} of every month ${at}`;
    case 'once':
      return `once on ${s.date} ${at}`;
    default:
      return `every day ${at}`;
  }
}
