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

const KEPT_KEYS = 50_000;
const keys = new Map<string, string>();

/** The same words come again and again in a table, so their keys are kept. */
function textKey(text: string): string {
  let key = keys.get(text);
  if (key === undefined) {
    key = makeKey(text);
    if (keys.size >= KEPT_KEYS) keys.clear();
    if (text.length <= 100) keys.set(text, key);
  }
  return key;
}

function makeKey(text: string): string {
  let key = text.toLowerCase();
  // eslint-disable-next-line no-control-regex
  if (/[^\x00-\x7f]/.test(key)) key = key.normalize('NFD').replace(/[\u0300-\u036f]/g, '');
  return /\d/.test(key) ? key.replace(/\d+/g, (d) => d.padStart(12, '0')) : key;
}

/** Order of two keys: negative, zero or positive. Nothing always comes last; numbers come before texts. */
export function compareKey(x: SortKey, y: SortKey, direction: number): number {
  if (x === y) return 0;
  if (x === null) return 1;
  if (y === null) return -1;
  if (typeof x === typeof y) return (x < y ? -1 : 1) * direction;
  return (typeof x === 'number' ? -1 : 1) * direction;
}

/** Order of two records by their keys. */
export function compareKeys(a: readonly SortKey[], b: readonly SortKey[], directions: readonly number[]): number {
  for (let i = 0; i < directions.length; i++) {
    const c = compareKey(a[i]!, b[i]!, directions[i]!);
    if (c !== 0) return c;
  }
  return 0;
}

/**
 * Takes things one by one and keeps the first `n` in order. Most of a long list is turned away by its first key
 * alone, so the other keys are worked out only when they are needed. Equal ones keep the order they came in.
 */
export class FirstInOrder<T> {
  private readonly best: { item: T; keys: SortKey[] }[] = [];

  constructor(
    private readonly n: number,
    private readonly directions: readonly number[],
  ) {}

  offer(item: T, key: (order: number) => SortKey): void {
    const { best, directions, n } = this;
    if (n === 0) return;
    const first = key(0);
    const keys: SortKey[] = [first];
    if (best.length === n) {
      const worst = best[n - 1]!.keys;
      for (let i = 0; ; i++) {
        if (i === directions.length) return;
        if (i > 0) keys.push(key(i));
        const c = compareKey(keys[i]!, worst[i]!, directions[i]!);
        if (c > 0) return;
        if (c < 0) break;
      }
      best.pop();
    }
    while (keys.length < directions.length) keys.push(key(keys.length));
    let low = 0;
    let high = best.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (compareKeys(best[mid]!.keys, keys, directions) <= 0) low = mid + 1;
      else high = mid;
    }
    best.splice(low, 0, { item, keys });
  }

  get items(): T[] {
    return this.best.map((b) => b.item);
  }
}
