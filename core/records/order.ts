import { CalendarDate, ClockTime, DateTime, DaysDuration, MonthsDuration, type Value } from '../formula/values.ts';
import { display } from './format.ts';

/** What a value is ordered by: a number, or a text made so that plain comparison gives the order people expect. */
export type SortKey = number | string | null;

/** Texts compare without case and accents and with their numbers counted: "Hive 9" before "Hive 10". */
export function sortKey(v: Value): SortKey {
  if (v === null || typeof v === 'number') return v;
  if (typeof v === 'string') return textKey(v);
  if (typeof v === 'boolean') return v ? 1 : 0;
  if (v instanceof CalendarDate) return v.day;
  if (v instanceof DateTime) return v.instant;
  if (v instanceof ClockTime || v instanceof DaysDuration) return v.ms;
  if (v instanceof MonthsDuration) return v.months;
  return textKey(display(v));
}

function textKey(text: string): string {
  let key = text.toLowerCase();
  // eslint-disable-next-line no-control-regex
  if (/[^\x00-\x7f]/.test(key)) key = key.normalize('NFD').replace(/[\u0300-\u036f]/g, '');
  return /\d/.test(key) ? key.replace(/\d+/g, (d) => d.padStart(12, '0')) : key;
}

/** Order of two records by their keys; nothing always comes last. */
export function compareKeys(a: readonly SortKey[], b: readonly SortKey[], directions: readonly number[]): number {
  for (let i = 0; i < directions.length; i++) {
    const x = a[i]!;
    const y = b[i]!;
    if (x === y) continue;
    if (x === null) return 1;
    if (y === null) return -1;
    if (typeof x === typeof y) return (x < y ? -1 : 1) * directions[i]!;
    return (typeof x === 'number' ? -1 : 1) * directions[i]!;
  }
  return 0;
}

/** Places of the first `n` in order, found in one pass. Equal ones keep the order they came in. */
export function firstInOrder(
  keys: readonly (readonly SortKey[])[],
  directions: readonly number[],
  n: number,
): number[] {
  const best: number[] = [];
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!;
    if (best.length === n) {
      if (n === 0 || compareKeys(key, keys[best[n - 1]!]!, directions) >= 0) continue;
      best.pop();
    }
    let low = 0;
    let high = best.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (compareKeys(keys[best[mid]!]!, key, directions) <= 0) low = mid + 1;
      else high = mid;
    }
    best.splice(low, 0, i);
  }
  return best;
}
