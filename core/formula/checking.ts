import { ANY, BOOLEAN, DATE, DAYS, NULL, NUMBER, TEXT, TIME, typeText, type Type } from './types.ts';

/** Is the type of one of these kinds? */
export const isAnyOf = (t: Type, kinds: Type['k'][]): boolean => kinds.includes(t.k);

/** The type of a sum, difference, product or quotient; null when it can only be empty. */
export function arithmeticType(op: string, a: Type, b: Type): Type {
  if (a.k === 'any' || b.k === 'any') return ANY;
  const [x, y] = [a.k, b.k];
  const dated = (k: string): boolean => k === 'date' || k === 'datetime' || k === 'time';
  const span = (k: string): boolean => k === 'days' || k === 'months';
  if (x === 'number' && y === 'number') return NUMBER;
  if (op === '+') {
    if (x === 'text' && y === 'text') return TEXT;
    if (span(x) && x === y) return a;
    if (dated(x) && span(y)) return a;
    if (span(x) && dated(y)) return b;
  }
  if (op === '-') {
    if (span(x) && x === y) return a;
    if (dated(x) && span(y)) return a;
    if (dated(x) && dated(y)) return DAYS;
  }
  if (op === '*' && ((span(x) && y === 'number') || (x === 'number' && span(y)))) return x === 'number' ? b : a;
  if (op === '/' && span(x)) return y === 'number' ? a : x === y ? NUMBER : NULL;
  return NULL;
}

/** Why an operator gives nothing for these types, and what to write instead. */
export function arithmeticAdvice(op: string, a: Type, b: Type): string {
  const base = `A ${typeText(a)} and a ${typeText(b)} have no “${op}”, so the result is always empty.`;
  if (op === '+' && (a.k === 'text' || b.k === 'text')) return `${base} Turn the other value into text with string(…).`;
  return base;
}

/** The key of an entry by its key or by what it is called; undefined where the context has none of either. */
export function entryKey(t: Type, name: string): string | undefined {
  if (t.k !== 'context') return undefined;
  if (Object.hasOwn(t.entries, name)) return name;
  return Object.keys(t.names ?? {}).find((key) => t.names![key] === name);
}

/** The type of a named part of a value; null when it has no such part. */
export function memberType(t: Type, name: string): Type | null {
  if (t.k === 'any' || t.k === 'null') return ANY;
  if (t.k === 'context') return t.entries[entryKey(t, name) ?? ''] ?? null;
  const properties: Partial<Record<Type['k'], string[]>> = {
    date: ['year', 'month', 'day', 'weekday'],
    datetime: [
      'year',
      'month',
      'day',
      'weekday',
      'hour',
      'minute',
      'second',
      'time offset',
      'timezone',
      'date',
      'time',
    ],
    time: ['hour', 'minute', 'second', 'time offset', 'timezone'],
    days: ['days', 'hours', 'minutes', 'seconds'],
    months: ['years', 'months'],
    range: ['start', 'end', 'start included', 'end included'],
  };
  if (!properties[t.k]?.includes(name)) return null;
  if (name === 'timezone') return TEXT;
  if (name === 'time offset') return DAYS;
  if (name === 'date') return DATE;
  if (name === 'time') return TIME;
  if (name.endsWith('included')) return BOOLEAN;
  return t.k === 'range' ? t.of : NUMBER;
}
