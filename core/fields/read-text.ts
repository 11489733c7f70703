import { makeDate, parseDateTime, parseDuration } from '../formula/temporal.ts';
import { CalendarDate, ClockTime, DateTime, DaysDuration } from '../formula/values.ts';

export type DayOrder = 'day first' | 'month first';
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** Years of two digits are of the hundred years up to this one, where nobody has said otherwise. */
export const USUAL_LAST_YEAR = 2069;

/**
 * Reads a date as people write it: ISO, 23.11.2026, 23/11/26, 23 Nov 2026, Nov 23, 2026. Null when it is none. Years of
 * two digits are of the hundred years up to `until`.
 */
export function readDateText(
  text: string,
  order: DayOrder = 'day first',
  until = USUAL_LAST_YEAR,
): CalendarDate | null {
  const fullYear = (y: string): number => (y.length === 4 ? Number(y) : until - ((until - Number(y)) % 100));
  const t = text.trim().replace(/^(mon|tue|wed|thu|fri|sat|sun)[a-z]*,?\s+/i, '');
  const packed = /^((?:19|20)\d\d)(\d\d)(\d\d)$/.exec(t);
  if (packed) return makeDate(Number(packed[1]), Number(packed[2]), Number(packed[3]));
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(t);
  if (iso) return makeDate(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numeric = /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})$/.exec(t);
  if (numeric) {
    const [a, b] = [Number(numeric[1]), Number(numeric[2])];
    return order === 'day first' ? makeDate(fullYear(numeric[3]!), b, a) : makeDate(fullYear(numeric[3]!), a, b);
  }
  const worded =
    /^(\d{1,2})\.?(?:\s+de)?[\s-]+(\p{L}{3,})\.?,?(?:\s+de)?[\s-]+(\d{4}|\d{2})$/iu.exec(t) ??
    swap(/^(\p{L}{3,})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/iu.exec(t));
  const month = worded && monthOf(worded[2]!);
  return worded && month ? makeDate(fullYear(worded[3]!), month, Number(worded[1])) : null;
}

/** Languages whose months are known; the first that knows a name says which it is. */
const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'sv', 'da', 'nb', 'fi', 'cs', 'hu', 'ro', 'tr'];
let months: Map<string, number> | null = null;

/** The number of a month by its name, long or short, in the languages above; 0 for any other word. */
function monthOf(word: string): number {
  months ??= monthNames();
  return months.get(plainWord(word)) ?? MONTHS.indexOf(word.slice(0, 3).toLowerCase()) + 1;
}

const plainWord = (word: string): string => word.toLowerCase().replace(/\.$/, '');

function monthNames(): Map<string, number> {
  const names = new Map<string, number>();
  for (const language of LANGUAGES)
    for (const month of ['long', 'short'] as const)
      for (const day of [undefined, 'numeric'] as const) {
        const format = new Intl.DateTimeFormat(language, { month, ...(day && { day }), timeZone: 'UTC' });
        for (let m = 0; m < 12; m++) {
          const name = format.formatToParts(Date.UTC(2026, m, 15)).find((p) => p.type === 'month')?.value ?? '';
          const word = plainWord(name);
          if (/^\p{L}{3,}$/u.test(word) && !names.has(word)) names.set(word, m + 1);
        }
      }
  return names;
}

const swap = (m: RegExpExecArray | null): string[] | null => m && [m[0], m[2]!, m[1]!, m[3]!];

const TIME_OF_DAY = /^(\d{1,2})[:.h](\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*(am|pm)?$/i;

/** Reads a date with a time; a date alone is no date and time. */
export function readDateTimeText(
  text: string,
  order: DayOrder = 'day first',
  until = USUAL_LAST_YEAR,
): DateTime | null {
  const t = text.trim();
  const iso = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2})?(?:\.\d+)?)(Z|[+-]\d{2}:?\d{2})?$/.exec(t);
  if (iso) {
    const local = parseDateTime(`${iso[1]}T${iso[2]!.length === 5 ? `${iso[2]}:00` : iso[2]}`);
    return local && new DateTime(Math.floor(local.ms / 1000) * 1000);
  }
  const at = /^(.*?\d)(?:,|\s+at)?\s+(\d{1,2}[:.h]\d{2}(?::\d{2}(?:[.,]\d+)?)?\s*(?:am|pm)?)$/i.exec(t);
  if (!at) return null;
  const date = readDateText(at[1]!, order, until);
  const time = TIME_OF_DAY.exec(at[2]!);
  if (!date || !time) return null;
  let hour = Number(time[1]);
  if (time[4]) hour = (hour % 12) + (/pm/i.test(time[4]) ? 12 : 0);
  if (hour > 23 || Number(time[2]) > 59) return null;
  return new DateTime(date.day * 86_400_000 + ((hour * 60 + Number(time[2])) * 60 + Number(time[3] ?? 0)) * 1000);
}

/** Does a date have a year of two digits? */
export const hasShortYear = (text: string): boolean =>
  /^\d{1,2}[-/.]\d{1,2}[-/.]\d{2}(?!\d)|^\d{1,2}\.?[\s-]+\p{L}{3,}\.?[\s-]+\d{2}(?!\d)/u.test(text.trim());

const OFFSET = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(?::\d{2})?(?:\.\d+)?\s?(Z|[+-]\d{2}:?\d{2})?$/;

/** The different offsets from UTC that dates and times are written with; an empty one for none. */
export function offsetsIn(values: readonly string[]): string[] {
  const found = new Set<string>();
  for (const v of values) {
    const m = OFFSET.exec(v.trim());
    if (m) found.add(m[1] ?? '');
  }
  return [...found];
}

/** A date and time with an offset, at that moment in UTC; any other text as it is. */
export function inUtc(text: string): string {
  const m = OFFSET.exec(text.trim());
  if (!m?.[1] || m[1] === 'Z') return text;
  const at = new Date(
    text
      .trim()
      .replace(' ', 'T')
      .replace(/\s/, '')
      .replace(/([+-]\d{2})(\d{2})$/, '$1:$2'),
  );
  return Number.isNaN(at.getTime()) ? text : at.toISOString().slice(0, 19);
}

/** Reads a time of day: 15:58, 3.58 pm, 15h58. */
export function readTimeText(text: string): ClockTime | null {
  const m = TIME_OF_DAY.exec(text.trim());
  if (!m) return null;
  const hour = m[4] ? (Number(m[1]) % 12) + (/pm/i.test(m[4]) ? 12 : 0) : Number(m[1]);
  if (hour > 23 || Number(m[2]) > 59 || Number(m[3] ?? 0) > 59) return null;
  return new ClockTime(((hour * 60 + Number(m[2])) * 60 + Number(m[3] ?? 0)) * 1000);
}

const YES = new Set(['yes', 'y', 'true', 'ja', 'oui', 'si', 'sí', 'x', '✓', '1', 'on']);
const NO = new Set(['no', 'n', 'false', 'nein', 'non', '0', 'off', '-']);

export function readYesNoText(text: string): boolean | null {
  const t = text.trim().toLowerCase();
  return YES.has(t) ? true : NO.has(t) ? false : null;
}

const UNITS: [RegExp, number][] = [
  [/^(d|days?)$/, 86_400_000],
  [/^(h|hrs?|hours?)$/, 3_600_000],
  [/^(m|mins?|minutes?)$/, 60_000],
  [/^(s|secs?|seconds?)$/, 1000],
];

/** Reads a duration: 1:30 (hours and minutes), 1 h 30 min, 2 days, 90 minutes, PT90M. */
export function readDurationText(text: string): DaysDuration | null {
  const t = text.trim().toLowerCase();
  const clock = /^(-)?(\d{1,4}):(\d{2})(?::(\d{2}))?$/.exec(t);
  if (clock && Number(clock[3]) < 60) {
    const seconds = Number(clock[2]) * 3600 + Number(clock[3]) * 60 + Number(clock[4] ?? 0);
    return new DaysDuration((clock[1] ? -1000 : 1000) * seconds || 0);
  }
  const iso = parseDuration(text.trim().toUpperCase());
  if (iso) return iso instanceof DaysDuration ? iso : null;
  if (!/^-?(\d+([.,]\d+)?\s*[a-z]+[\s,]*)+$/.test(t)) return null;
  let ms = 0;
  for (const [, n, unit] of t.matchAll(/(\d+(?:[.,]\d+)?)\s*([a-z]+)/g)) {
    const size = UNITS.find(([words]) => words.test(unit!))?.[1];
    if (size === undefined) return null;
    ms += Number(n!.replace(',', '.')) * size;
  }
  return new DaysDuration((t.startsWith('-') ? -1 : 1) * Math.round(ms) || 0);
}
