import { fixedNumber, moneyText } from '../fields/numbers.ts';
import { parts } from '../formula/temporal.ts';
import { CalendarDate, ClockTime, DateTime, type Value } from '../formula/values.ts';
import { fix } from '../formula/number.ts';
import type { Field } from '../tables/schema.ts';
import { clockWords, dateWords, display } from './format.ts';

/**
 * How a value in words is told, where that is not as its field tells it. Stored behind the formula of its place:
 * `{f_when0000 | how long ago | "never"}`.
 */
export const SPOKEN: Readonly<Record<string, string>> = {
  'number 0': 'a whole number',
  'number 1': 'a number with 1 decimal',
  'number 2': 'a number with 2 decimals',
  money: 'money',
  percent: 'percent',
  date: 'a date',
  'short date': 'a date without its year',
  weekday: 'a weekday',
  time: 'a time',
  'date and time': 'a date and time',
  'how long ago': 'how long ago',
  'how many': 'how many',
};

/** Does a value told so change with the clock? */
export const movesWithTime = (spoken: string | undefined): boolean => spoken === 'how long ago';

const DAY = 86_400_000;
const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];
const dayOf = (v: Value): CalendarDate | null =>
  v instanceof CalendarDate ? v : v instanceof DateTime ? parts(v).date : null;

/** A value as `spoken` tells it; as its field does where that says nothing of such a value. `now` is the wall clock. */
export function spokenText(v: Value, spoken: string, field: Field | undefined, now: number): string {
  const asItIs = (): string => display(v, field);
  if (spoken === 'how many') return Array.isArray(v) ? String(v.length) : v === null ? '0' : '1';
  if (v === null) return '';
  const decimals = /^number (\d)$/.exec(spoken);
  if (decimals) return typeof v === 'number' ? withUnit(fixedNumber(v, Number(decimals[1])), field) : asItIs();
  const day = dayOf(v);
  switch (spoken) {
    case 'money':
      return typeof v === 'number' ? moneyText(v, field?.unit ?? '€') : asItIs();
    case 'percent':
      return typeof v === 'number' ? `${fixedNumber(fix(v * 100), field?.decimals ?? 0)} %` : asItIs();
    case 'date':
      return day ? dateWords(day) : asItIs();
    case 'short date':
      return day ? dateWords(day).replace(/ \d+$/, '') : asItIs();
    case 'weekday':
      // 1970-01-01 was a Thursday.
      return day ? WEEKDAYS[(((day.day + 4) % 7) + 7) % 7]! : asItIs();
    case 'time':
      return v instanceof DateTime ? clockWords(parts(v).time) : v instanceof ClockTime ? clockWords(v) : asItIs();
    case 'date and time':
      return v instanceof DateTime ? `${dateWords(day!)}, ${clockWords(parts(v).time)}` : asItIs();
    case 'how long ago':
      return v instanceof DateTime
        ? ago(now - v.ms)
        : v instanceof CalendarDate
          ? daysAgo(Math.floor(now / DAY) - v.day)
          : asItIs();
    default:
      return asItIs();
  }
}

const withUnit = (n: string, field: Field | undefined): string =>
  field?.unit && field.type !== 'money' ? `${n} ${field.unit}` : n;

/** Days from today, as people say them; far ones by months and years. */
function daysAgo(days: number): string {
  if (days === 0) return 'today';
  if (Math.abs(days) === 1) return days > 0 ? 'yesterday' : 'tomorrow';
  const n = Math.abs(days);
  const said = n < 60 ? `${n} days` : n < 730 ? `${Math.round(n / 30.44)} months` : `${Math.floor(n / 365.25)} years`;
  return days > 0 ? `${said} ago` : `in ${said}`;
}

function ago(ms: number): string {
  const n = Math.abs(ms);
  if (n < 60_000) return 'just now';
  if (n >= DAY * 2) return daysAgo(Math.trunc(ms / DAY));
  const [count, unit] = n < 3_600_000 ? [Math.floor(n / 60_000), 'minute'] : [Math.floor(n / 3_600_000), 'hour'];
  const said = `${count} ${unit}${count === 1 ? '' : 's'}`;
  return ms > 0 ? `${said} ago` : `in ${said}`;
}
