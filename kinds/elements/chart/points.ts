import { figureOf } from '../../../core/records/figures.ts';
import { display } from '../../../core/records/format.ts';
import { civil, dayNumber } from '../../../core/formula/temporal.ts';
import { round } from '../../../core/formula/number.ts';
import { named, type Named, type ReadField } from '../../../core/records/groups.ts';
import { CalendarDate, DateTime, DaysDuration, type Value } from '../../../core/formula/values.ts';
import type { Row } from '../../../core/records/row.ts';
import type { Field, Figure } from '../../../core/tables/schema.ts';

/** A part of a chart: what it stands for, its size as a number, and as people read it. */
export interface Point {
  label: string;
  value: number;
  said: string;
}

/** What a chart is made of. */
export interface Asked {
  figure: Figure;
  /** What records are put together by; all are one when absent. */
  by: ReadField | null;
  /** What is measured of each; how many there are when absent. */
  of: ReadField | null;
}

/** More parts than this nobody tells apart. */
const MOST = 12;
const DAY = 86_400_000;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

interface Group {
  label: string;
  /** Groups with one stand in its order; others by their size. */
  rank: number | null;
  rows: Row[];
}

/** The points of a chart over these records, and how many parts were left out because they are too many. */
export function pointsOf(rows: readonly Row[], asked: Asked): { points: Point[]; left: number } {
  const groups = asked.by ? grouped(rows, asked.by) : [{ label: '', rank: null, rows: [...rows] }];
  const made = groups.map((g) => ({ ...g, ...figured(g.rows, asked) }));
  const inOrder = made.some((g) => g.rank !== null);
  made.sort((a, b) => (inOrder ? (a.rank ?? Infinity) - (b.rank ?? Infinity) : b.value - a.value));
  if (made.length <= MOST || (asked.by && isDay(asked.by.field))) return { points: made.map(plain), left: 0 };
  const rest = made.slice(MOST - 1);
  // Only what adds up can be added up.
  if (asked.figure !== 'count' && asked.figure !== 'sum')
    return { points: made.slice(0, MOST).map(plain), left: made.length - MOST };
  const others = {
    label: `${rest.length} others`,
    ...figured(
      rest.flatMap((g) => g.rows),
      asked,
    ),
  };
  return { points: [...made.slice(0, MOST - 1), others].map(plain), left: 0 };
}

const plain = ({ label, value, said }: Point): Point => ({ label, value, said });
const isDay = (f: Field): boolean =>
  f.type === 'date' || f.type === 'datetime' || f.type === 'created' || f.type === 'changed';

function figured(rows: readonly Row[], { figure, of }: Asked): { value: number; said: string } {
  const counts = figure === 'count' || !of;
  const v = counts
    ? rows.length
    : figureOf(
        figure,
        rows.map((r) => of.get(r)),
      );
  const value = typeof v === 'number' ? v : v instanceof DaysDuration ? v.ms / 3_600_000 : 0;
  if (v === null) return { value, said: 'none' };
  if (counts || figure === 'filled') return { value, said: display(v) };
  // An average goes on for ever: two places more than nothing are enough to read.
  const read =
    figure === 'average' && typeof v === 'number' && of.field.decimals === undefined ? round(v, 2, 'half up') : v;
  return { value, said: display(read, of.field) };
}

function grouped(rows: readonly Row[], by: NonNullable<Asked['by']>): Group[] {
  const labelled = isDay(by.field) ? days(rows.map((r) => by.get(r))) : (v: Value) => named(v, by.field);
  const groups = new Map<string, Group>();
  for (const row of rows) {
    const v = by.get(row);
    // A record with several values belongs to each of them.
    for (const one of Array.isArray(v) && v.length ? v : [v]) {
      const { key, label, rank } = labelled(one);
      const group = groups.get(key);
      if (group) group.rows.push(row);
      else groups.set(key, { label, rank, rows: [row] });
    }
  }
  return [...groups.values()];
}

/** Days, months or years, so that there are few enough to see. */
function days(values: readonly Value[]): (v: Value) => Named {
  const dayOf = (v: Value): number | null =>
    v instanceof CalendarDate ? v.day : v instanceof DateTime ? Math.floor(v.ms / DAY) : null;
  let [first, last] = [Infinity, -Infinity];
  for (const v of values) {
    const day = dayOf(v);
    if (day !== null) [first, last] = [Math.min(first, day), Math.max(last, day)];
  }
  const span = last - first;
  return (v) => {
    const day = dayOf(v);
    if (day === null) return { key: '', label: 'no date', rank: null };
    const c = civil(day);
    if (span > 1000) return { key: String(c.year), label: String(c.year), rank: c.year };
    if (span > 45)
      return {
        key: `${c.year} ${c.month}`,
        label: `${MONTHS[c.month - 1]} ${c.year}`,
        rank: dayNumber(c.year, c.month, 1),
      };
    return { key: String(day), label: `${c.day} ${MONTHS[c.month - 1]}`, rank: day };
  };
}
