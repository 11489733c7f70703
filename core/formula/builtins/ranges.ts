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

function relation(
  name: string,
  kinds: 'points' | 'ranges' | 'point in range',
  test: (a: Value, b: Value) => boolean,
  help: string,
) {
  return define(
    name,
    'a: point, b: point',
    BOOLEAN,
    (a: Value, b: Value) => {
      if (kinds === 'ranges' && !(isRange(a) && isRange(b))) return null;
      try {
        return test(a, b);
      } catch (e) {
        if (e === NOT_COMPARABLE) return null;
        throw e;
      }
    },
    help,
  );
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
  relation('before', 'points', before, 'Does the first end before the second begins?'),
  relation('after', 'points', (a: Point, b: Point) => before(b, a), 'Does the first begin after the second ends?'),
  relation(
    'meets',
    'ranges',
    (a, b) => meets(a as Range, b as Range),
    'Does the first end exactly where the second begins?',
  ),
  relation(
    'met by',
    'ranges',
    (a, b) => meets(b as Range, a as Range),
    'Does the first begin exactly where the second ends?',
  ),
  relation('overlaps', 'ranges', (a, b) => !before(a, b) && !before(b, a), 'Do the two ranges share a part?'),
  relation(
    'overlaps before',
    'ranges',
    (a, b) => overlapsBefore(a as Range, b as Range),
    'Does the first begin earlier and reach into the second?',
  ),
  relation(
    'overlaps after',
    'ranges',
    (a, b) => overlapsBefore(b as Range, a as Range),
    'Does the second begin earlier and reach into the first?',
  ),
  relation(
    'finishes',
    'point in range',
    (a, b) => {
      if (!isRange(b)) throw NOT_COMPARABLE;
      if (!isRange(a)) return b.endIncluded && order(a, b.end) === 0;
      return endsTogether(a, b) && holds(b, a);
    },
    'Does the first end together with the second?',
  ),
  relation(
    'finished by',
    'point in range',
    (a, b) => {
      if (!isRange(a)) throw NOT_COMPARABLE;
      if (!isRange(b)) return a.endIncluded && order(b, a.end) === 0;
      return endsTogether(a, b) && holds(a, b);
    },
    'Does the second end together with the first?',
  ),
  relation(
    'includes',
    'point in range',
    (a, b) => {
      if (!isRange(a)) throw NOT_COMPARABLE;
      return holds(a, b);
    },
    'Does the range hold a point or another range?',
  ),
  relation(
    'during',
    'point in range',
    (a, b) => {
      if (!isRange(b)) throw NOT_COMPARABLE;
      return holds(b, a);
    },
    'Does the first lie inside the second?',
  ),
  relation(
    'starts',
    'point in range',
    (a, b) => {
      if (!isRange(b)) throw NOT_COMPARABLE;
      if (!isRange(a)) return b.startIncluded && order(a, b.start) === 0;
      return startsWithin(a, b) && holds(b, a);
    },
    'Does the first begin together with the second?',
  ),
  relation(
    'started by',
    'point in range',
    (a, b) => {
      if (!isRange(a)) throw NOT_COMPARABLE;
      if (!isRange(b)) return a.startIncluded && order(b, a.start) === 0;
      return startsWithin(a, b) && holds(a, b);
    },
    'Does the second begin together with the first?',
  ),
  relation(
    'coincides',
    'points',
    (a, b) => {
      if (isRange(a) && isRange(b)) return startsWithin(a, b) && endsTogether(a, b);
      if (equal(a, b) === null) throw NOT_COMPARABLE;
      return equal(a, b) === true;
    },
    'Are both the same point or range?',
  ),
  define(
    'range',
    'from: text',
    { k: 'range', of: ANY },
    (s: string) => rangeFromText(s),
    'A range from text such as "[1..5]".',
  ),
];
