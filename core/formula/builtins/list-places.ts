import { placesOf } from '../places.ts';
import { ANY, BOOLEAN, NUMBER, listOf } from '../types.ts';
import { ClockTime, DateTime, FunctionValue, equal, isContext, type Context, type Value } from '../values.ts';
import { define, type Runtime } from './define.ts';
import { sameList } from './lists.ts';

/**
 * Are two values the same element of FEEL (DMN 1.5, 10.3.4.10)? Times are only where their offsets are the same too:
 * 12:00Z and 13:00+01:00 are equal, and not the same.
 */
function isSame(a: Value, b: Value): boolean {
  if (equal(a, b) !== true) return false;
  if ((a instanceof DateTime && b instanceof DateTime) || (a instanceof ClockTime && b instanceof ClockTime))
    return a.offset === b.offset && a.zone === b.zone;
  if (Array.isArray(a)) return a.every((x, i) => isSame(x, (b as Value[])[i]!));
  return !isContext(a) || Object.keys(a).every((k) => isSame(a[k]!, (b as Context)[k]!));
}

function flatten(list: Value[]): Value[] {
  return list.flatMap((x) => (Array.isArray(x) ? flatten(x) : [x]));
}

const place = (list: Value[], position: number): number => (position > 0 ? position - 1 : list.length + position);

/** Functions that take lists apart by positions, of which few apps need one. */
export const LIST_PLACE_FUNCTIONS = [
  define(
    'sublist',
    'list: list, start position: number, length?: number',
    sameList,
    (l: Value[], s: number, n: number | null) => {
      const from = place(l, s);
      if (s === 0 || from < 0 || from >= l.length + 1) return null;
      return n === null ? l.slice(from) : l.slice(from, from + n);
    },
  ),
  define(
    'insert before',
    'list: list, position: number, newItem|new item: any',
    sameList,
    (l: Value[], p: number, v: Value) => {
      const at = place(l, p);
      return p === 0 || at < 0 || at > l.length ? null : [...l.slice(0, at), v, ...l.slice(at)];
    },
  ),
  define('remove', 'list: list, position: number', sameList, (l: Value[], p: number) => {
    const at = place(l, p);
    return p === 0 || at < 0 || at >= l.length ? null : l.filter((_, i) => i !== at);
  }),
  define(
    'list replace',
    'list: list, position|match: any, newItem|new item: any',
    sameList,
    (l: Value[], p: Value, v: Value) => {
      if (p instanceof FunctionValue) return l.map((x) => (p.call([x, v]) === true ? v : x));
      if (typeof p !== 'number' || p === 0) return null;
      const at = place(l, p);
      return at < 0 || at >= l.length ? null : l.map((x, i) => (i === at ? v : x));
    },
  ),
  define('index of', 'list: list, match: any', listOf(NUMBER), function (this: Runtime, l: Value[], v: Value) {
    return placesOf(l, v, this).map((i) => i + 1);
  }),
  define('flatten', 'list: list', listOf(ANY), (l: Value[]) => flatten(l)),
  define('is', 'value1: any, value2: any', BOOLEAN, (a: Value, b: Value) => isSame(a, b)),
];
