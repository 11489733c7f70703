import { BOOLEAN, ANY } from '../types.ts';
import { Range, compare, equal, inRange, type Value } from '../values.ts';
import { define } from './define.ts';
import { parsing } from '../parsing.ts';
import { parseTemporal } from '../temporal.ts';
import type { Node } from '../ast.ts';

type Point = Value;
const isRange = (v: Value): v is Range => v instanceof Range;

/** Order of two points, with unknown turned into a failed comparison. */
function order(a: Value, b: Value): number {
  const c = compare(a, b);
  if (c === null) throw NOT_COMPARABLE;
  return c;
}
const NOT_COMPARABLE = new Error('not comparable');

/** What a relation takes, by the names that the standard gives it. */
const TAKES = {
  points: 'point1|point|range1|range: point, point2|range2|range|point: point',
  ranges: 'range1: point, range2: point',
  'point in range': 'point|range1: point, range|range2: point',
  'range with point': 'range|range1: point, point|range2: point',
} as const;

function relation(name: string, kinds: keyof typeof TAKES, test: (a: Value, b: Value) => boolean) {
  return define(name, TAKES[kinds], BOOLEAN, (a: Value, b: Value) => {
    if (kinds === 'ranges' && !(isRange(a) && isRange(b))) return null;
    try {
      return test(a, b);
    } catch (e) {
      if (e === NOT_COMPARABLE) return null;
      throw e;
    }
  });
}

function before(a: Value, b: Value): boolean {
  const end = isRange(a) ? a.end : a;
  const start = isRange(b) ? b.start : b;
  const c = order(end, start);
  const open = (isRange(a) && !a.endIncluded) || (isRange(b) && !b.startIncluded);
  return c < 0 || (c === 0 && open);
}

function startsWithin(a: Range, b: Range): boolean {
  return order(a.start, b.start) === 0 && a.startIncluded === b.startIncluded;
}
function endsTogether(a: Range, b: Range): boolean {
  return order(a.end, b.end) === 0 && a.endIncluded === b.endIncluded;
}
function holds(outer: Range, inner: Value): boolean {
  if (!isRange(inner)) {
    const r = inRange(inner, outer);
    if (r === null) throw NOT_COMPARABLE;
    return r;
  }
  const s = order(outer.start, inner.start);
  const e = order(outer.end, inner.end);
  return (
    (s < 0 || (s === 0 && (outer.startIncluded || !inner.startIncluded))) &&
    (e > 0 || (e === 0 && (outer.endIncluded || !inner.endIncluded)))
  );
}
function meets(a: Range, b: Range): boolean {
  return a.endIncluded && b.startIncluded && order(a.end, b.start) === 0;
}
function overlapsBefore(a: Range, b: Range): boolean {
  const s = order(a.start, b.start);
  const startsFirst = s < 0 || (s === 0 && a.startIncluded && !b.startIncluded);
  const c = order(a.end, b.start);
  const reaches = c > 0 || (c === 0 && a.endIncluded && b.startIncluded);
  const e = order(a.end, b.end);
  return startsFirst && reaches && (e < 0 || (e === 0 && (!a.endIncluded || b.endIncluded)));
}

/** A range from its text, such as "[1..5)", with literal ends only. */
function rangeFromText(text: string): Value {
  try {
    const node = parsing.parse(text);
    if (node.t !== 'range') return null;
    const end = (n: Node): Value | undefined => {
      if (n.t === 'literal') return n.value;
      if (n.t === 'at') return parseTemporal(n.text);
      if (n.t === 'unary' && n.of.t === 'literal' && typeof n.of.value === 'number') return -n.of.value;
      return undefined;
    };
    const [a, b] = [end(node.start), end(node.end)];
    if (a === undefined || b === undefined || (a === null && b === null)) return null;
    if (a !== null && b !== null && !((compare(a, b) ?? 1) <= 0)) return null;
    return new Range(a, b, node.startIncluded, node.endIncluded);
  } catch {
    return null;
  }
}

export const RANGE_FUNCTIONS = [
  relation('before', 'points', before),
  relation('after', 'points', (a: Point, b: Point) => before(b, a)),
  relation('meets', 'ranges', (a, b) => meets(a as Range, b as Range)),
  relation('met by', 'ranges', (a, b) => meets(b as Range, a as Range)),
  relation('overlaps', 'ranges', (a, b) => !before(a, b) && !before(b, a)),
  relation('overlaps before', 'ranges', (a, b) => overlapsBefore(a as Range, b as Range)),
  relation('overlaps after', 'ranges', (a, b) => overlapsBefore(b as Range, a as Range)),
  relation('finishes', 'point in range', (a, b) => {
    if (!isRange(b)) throw NOT_COMPARABLE;
    if (!isRange(a)) return b.endIncluded && order(a, b.end) === 0;
    return endsTogether(a, b) && holds(b, a);
  }),
  relation('finished by', 'range with point', (a, b) => {
    if (!isRange(a)) throw NOT_COMPARABLE;
    if (!isRange(b)) return a.endIncluded && order(b, a.end) === 0;
    return endsTogether(a, b) && holds(a, b);
  }),
  relation('includes', 'range with point', (a, b) => {
    if (!isRange(a)) throw NOT_COMPARABLE;
    return holds(a, b);
  }),
  relation('during', 'point in range', (a, b) => {
    if (!isRange(b)) throw NOT_COMPARABLE;
    return holds(b, a);
  }),
  relation('starts', 'point in range', (a, b) => {
    if (!isRange(b)) throw NOT_COMPARABLE;
    if (!isRange(a)) return b.startIncluded && order(a, b.start) === 0;
    return startsWithin(a, b) && holds(b, a);
  }),
  relation('started by', 'range with point', (a, b) => {
    if (!isRange(a)) throw NOT_COMPARABLE;
    if (!isRange(b)) return a.startIncluded && order(b, a.start) === 0;
    return startsWithin(a, b) && holds(a, b);
  }),
  relation('coincides', 'points', (a, b) => {
    if (isRange(a) && isRange(b)) return startsWithin(a, b) && endsTogether(a, b);
    if (equal(a, b) === null) throw NOT_COMPARABLE;
    return equal(a, b) === true;
  }),
  define('range', 'from: text', { k: 'range', of: ANY }, (s: string) => rangeFromText(s)),
];
