import { add, divide, multiply } from '../number.ts';
import { ANY, NUMBER, listOf } from '../types.ts';
import { isContext, newContext, type Context, type Value } from '../values.ts';
import { define, spread } from './define.ts';

/** The numbers of a list, empty places left out as in a sum; null when there are none, or anything else. */
function numbers(list: Value[]): number[] | null {
  const there = list.filter((x) => x !== null);
  return there.length > 0 && there.every((x) => typeof x === 'number') ? there : null;
}

function deviation(args: Value[]): Value {
  const n = numbers(spread(args));
  if (!n || n.length < 2) return null;
  const m = n.reduce((a, b) => a + b, 0) / n.length;
  return Math.sqrt(n.reduce((a, x) => a + (x - m) ** 2, 0) / (n.length - 1));
}

/** Functions of which few apps need one: statistics, and contexts that are taken apart or put together. */
export const RARE_FUNCTIONS = [
  define('product', 'list: any...', NUMBER, (...args: Value[]) => numbers(spread(args))?.reduce(multiply, 1) ?? null),
  define('median', 'list: any...', NUMBER, (...args: Value[]) => {
    const n = numbers(spread(args))
      ?.slice()
      .sort((a, b) => a - b);
    if (!n) return null;
    const mid = n.length >> 1;
    return n.length % 2 ? n[mid]! : divide(add(n[mid - 1]!, n[mid]!), 2);
  }),
  define('stddev', 'list: any...', NUMBER, (...args: Value[]) => deviation(args)),
  define('mode', 'list: any...', listOf(NUMBER), (...args: Value[]) => {
    const list = spread(args).filter((x) => x !== null);
    if (list.length === 0) return [];
    const n = numbers(list);
    if (!n) return null;
    const counts = new Map<number, number>();
    for (const x of n) counts.set(x, (counts.get(x) ?? 0) + 1);
    const top = Math.max(...counts.values());
    return [...counts]
      .filter(([, c]) => c === top)
      .map(([x]) => x)
      .sort((a, b) => a - b);
  }),
  define('get value', 'm|context: context, key|keys: any', ANY, (c: Context, key: Value) => {
    if (Array.isArray(key))
      return key.reduce<Value>((at, k) => (isContext(at) && typeof k === 'string' ? (at[k] ?? null) : null), c);
    return typeof key === 'string' && Object.hasOwn(c, key) ? c[key]! : null;
  }),
  define(
    'get entries',
    'm|context: context',
    listOf({ k: 'context', entries: { key: ANY, value: ANY } }),
    (c: Context) =>
      Object.entries(c).map(([key, value]) =>
        newContext([
          ['key', key],
          ['value', value],
        ]),
      ),
  ),
  define('context', 'entries: list', ANY, (entries: Value[]) => {
    const out = newContext();
    for (const e of entries) {
      if (!isContext(e) || typeof e['key'] !== 'string' || !('value' in e) || e['key'] in out) return null;
      out[e['key']] = e['value']!;
    }
    return out;
  }),
  define('context put', 'context: context, key|keys: any, value: any', ANY, (c: Context, key: Value, value: Value) => {
    const put = (at: Value, keys: Value[]): Value => {
      const [k, ...rest] = keys;
      if (typeof k !== 'string' || (at !== null && !isContext(at))) return null;
      const inner = rest.length ? put((at as Context | null)?.[k] ?? null, rest) : value;
      return inner === null && rest.length ? null : newContext([...Object.entries((at ?? {}) as Context), [k, inner]]);
    };
    const keys = Array.isArray(key) ? key : [key];
    return keys.length ? put(c, keys) : null;
  }),
  define('context merge', 'contexts: list', ANY, (list: Value[]) =>
    list.every(isContext) ? newContext(list.flatMap((c) => Object.entries(c as Context))) : null,
  ),
];
