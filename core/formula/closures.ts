import { spend } from './budget.ts';
import { add, divide, multiply, subtract } from './number.ts';
import { joined, minus, over, plus, raise, test, times } from './operators.ts';
import type { Frame } from './scope.ts';
import { CalendarDate, Range, inRange, type Value } from './values.ts';

/** A compiled formula, or a part of one. */
export type Run = (frame: Frame) => Value;

/** A run that always gives this value. What it gives is known beforehand, so that a number beside it need not be asked for. */
export const constantRun = (value: null | boolean | number | string): Run =>
  Object.assign(() => value, { constant: value });
const constantOf = (run: Run): unknown => (run as { constant?: unknown }).constant;

/** Ordering and inequality; numbers, which are most of it, without a detour. */
export function comparison(op: '!=' | '<' | '<=' | '>' | '>=', l: Run, r: Run): Run {
  const k = constantOf(r);
  if (typeof k === 'number' && op === '>')
    return (f) => {
      const a = l(f);
      return typeof a === 'number' ? a > k : test('>', a, k);
    };
  if (typeof k === 'number' && op === '<')
    return (f) => {
      const a = l(f);
      return typeof a === 'number' ? a < k : test('<', a, k);
    };
  switch (op) {
    case '<':
      return (f) => {
        const a = l(f),
          b = r(f);
        return typeof a === 'number' && typeof b === 'number' ? a < b : test('<', a, b);
      };
    case '>':
      return (f) => {
        const a = l(f),
          b = r(f);
        return typeof a === 'number' && typeof b === 'number' ? a > b : test('>', a, b);
      };
    default:
      return (f) => test(op, l(f), r(f));
  }
}

/** The four operations and the exponent; numbers, which are most of it, without a detour. */
export function arithmetic(op: '+' | '-' | '*' | '/' | '**', l: Run, r: Run): Run {
  const k = constantOf(r);
  if (typeof k === 'number' && op === '*')
    return (f) => {
      const a = l(f);
      return typeof a === 'number' ? multiply(a, k) : times(a, k);
    };
  if (typeof k === 'string' && op === '+')
    return (f) => {
      const a = l(f);
      return typeof a === 'string' ? joined(a, k) : plus(a, k);
    };
  switch (op) {
    case '+':
      return (f) => {
        const a = l(f),
          b = r(f);
        if (typeof a === 'number' && typeof b === 'number') return add(a, b);
        return typeof a === 'string' && typeof b === 'string' ? joined(a, b) : plus(a, b);
      };
    case '-':
      return (f) => {
        const a = l(f),
          b = r(f);
        return typeof a === 'number' && typeof b === 'number' ? subtract(a, b) : minus(a, b);
      };
    case '*':
      return (f) => {
        const a = l(f),
          b = r(f);
        return typeof a === 'number' && typeof b === 'number' ? multiply(a, b) : times(a, b);
      };
    case '/':
      return (f) => {
        const a = l(f),
          b = r(f);
        return typeof a === 'number' && typeof b === 'number' ? divide(a, b) : over(a, b);
      };
    case '**':
      return (f) => raise(l(f), r(f));
  }
}

/** The values a loop runs through: a list, a range of whole numbers or days, or `a..b` counting up or down. */
export function iterate(v: Value, upTo: Value | undefined): Value[] | null {
  if (upTo === undefined) {
    if (Array.isArray(v)) return v;
    if (v instanceof Range) {
      const values = iterate(v.start, v.end);
      return values && values.filter((x) => inRange(x, v) === true);
    }
    return v === null ? null : [v];
  }
  const out: Value[] = [];
  if (typeof v === 'number' && typeof upTo === 'number') {
    const step = v <= upTo ? 1 : -1;
    spend(Math.abs(upTo - v));
    for (let i = v; step > 0 ? i <= upTo : i >= upTo; i += step) out.push(i);
    return out;
  }
  if (v instanceof CalendarDate && upTo instanceof CalendarDate) {
    const step = v.day <= upTo.day ? 1 : -1;
    spend(Math.abs(upTo.day - v.day));
    for (let i = v.day; step > 0 ? i <= upTo.day : i >= upTo.day; i += step) out.push(new CalendarDate(i));
    return out;
  }
  return null;
}
