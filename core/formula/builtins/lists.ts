import { spend } from '../budget.ts';
import { keyOf } from '../keys.ts';
import { add, divide } from '../number.ts';
import { placesOf } from '../places.ts';
import { plus } from '../operators.ts';
import { ANY, BOOLEAN, NUMBER, listOf, type Type } from '../types.ts';
import { DaysDuration, FunctionValue, MonthsDuration, compare, equal, type Value } from '../values.ts';
import { and, or } from '../operators.ts';
import { define, itemType, spread, type Runtime } from './define.ts';

/** A list of what the first argument holds. */
export const sameList = (args: Type[]): Type =>
  args[0]?.k === 'list' ? args[0] : args[0] ? listOf(args[0]) : listOf(ANY);

function extreme(args: Value[], sign: 1 | -1): Value {
  const list = spread(args).filter((x) => x !== null);
  let best: Value = list[0] ?? null;
  for (let i = 1; i < list.length; i++) {
    const c = compare(list[i]!, best);
    if (c === null) return null;
    if (c * sign > 0) best = list[i]!;
  }
  return best !== null && compare(best, best) === null ? null : best;
}

/** Sum of numbers or of durations; empty places are left out. The sum of none is 0, other than in the standard. */
export function sum(args: Value[]): Value {
  const list = spread(args);
  let total: Value = null;
  if (typeof list[0] === 'number') {
    let t = 0;
    for (let i = 0; i < list.length; i++) {
      const x = list[i]!;
      if (typeof x === 'number') t = add(t, x);
      else if (x !== null) return null;
    }
    return t;
  }
  for (const x of list) {
    if (x === null) continue;
    if (typeof x !== 'number' && !(x instanceof DaysDuration) && !(x instanceof MonthsDuration)) return null;
    total = total === null ? x : plus(total, x);
    if (total === null) return null;
  }
  return total ?? 0;
}

function mean(args: Value[]): Value {
  const list = spread(args).filter((x) => x !== null);
  if (list.length === 0) return null;
  const total = sum([list]);
  if (typeof total === 'number') return divide(total, list.length);
  if (total instanceof DaysDuration) return new DaysDuration(Math.trunc(total.ms / list.length));
  return total instanceof MonthsDuration ? new MonthsDuration(Math.trunc(total.months / list.length)) : null;
}

function distinct(list: Value[]): Value[] {
  const out: Value[] = [];
  const seen = new Set<string>();
  // Lists and contexts have no key: they are compared with one another.
  const odd: Value[] = [];
  for (const x of list) {
    const key = keyOf(x);
    if (key === undefined) {
      spend(odd.length * 4);
      if (odd.some((y) => equal(x, y) === true)) continue;
      odd.push(x);
    } else if (seen.has(key)) continue;
    else seen.add(key);
    out.push(x);
  }
  return out;
}

export const LIST_FUNCTIONS = [
  define('list contains', 'list: list, element: any', BOOLEAN, function (this: Runtime, l: Value[], v: Value) {
    return placesOf(l, v, this).length > 0;
  }),
  define('count', 'list: any...', NUMBER, (...args: Value[]) =>
    args.length === 1 && args[0] === null ? null : spread(args).length,
  ),
  define('min', 'list: any...', itemType, (...args: Value[]) => extreme(args, -1)),
  define('max', 'list: any...', itemType, (...args: Value[]) => extreme(args, 1)),
  define('sum', 'list: any...', itemType, (...args: Value[]) => sum(args)),
  define('mean', 'list: any...', itemType, (...args: Value[]) => mean(args)),
  define('all', 'list: any...', BOOLEAN, (...args: Value[]) =>
    spread(args).reduce<boolean | null>((a, b) => and(a, b), true),
  ),
  define('any', 'list: any...', BOOLEAN, (...args: Value[]) =>
    spread(args).reduce<boolean | null>((a, b) => or(a, b), false),
  ),
  define('append', 'list: list, item: any...', sameList, (l: Value[], ...items: Value[]) => [...l, ...items]),
  define('concatenate', 'list: list...', sameList, (...lists: Value[][]) => lists.flat(1)),
  define('reverse', 'list: list', sameList, (l: Value[]) => [...l].reverse()),
  define('union', 'list: list...', sameList, (...lists: Value[][]) => distinct(lists.flat(1))),
  define('distinct values', 'list: list', sameList, (l: Value[]) => distinct(l)),
  define('sort', 'list: list, precedes?: function', sameList, (l: Value[], f: FunctionValue | null) => {
    let failed = false;
    const order = (a: Value, b: Value): number => {
      if (f) return f.call([a, b]) === true ? -1 : f.call([b, a]) === true ? 1 : 0;
      const c = compare(a, b);
      if (c === null) failed = true;
      return c ?? 0;
    };
    const out = [...l].sort(order);
    return failed ? null : out;
  }),
];
