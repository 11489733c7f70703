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
  /** Null where there is none: nothing is drawn there, which is not the same as a zero. */
  value: number | null;
  said: string;
}

/** What a chart is made of. */
export interface Asked {
  figure: Figure;
  /** What records are put together by; all are one when absent. */
  by: ReadField | null;
  /** What is measured of each; how many there are when absent. */
  of: ReadField | null;
  /** Days, months and years without a record have their place too: what is drawn goes on from one to the next. */
  goesOn?: boolean;
}

/** More parts than this nobody tells apart. */
const MOST = 12;
/** So many days, months or years that nothing happened in are put between those that something did. */
const MOST_BETWEEN = 120;
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
  const groups = asked.by ? grouped(rows, asked.by, asked.goesOn) : [{ label: '', rank: null, rows: [...rows] }];
  const made = groups.map((g) => ({ ...g, ...figured(g.rows, asked) }));
  const inOrder = made.some((g) => g.rank !== null);
  made.sort((a, b) => (inOrder ? (a.rank ?? Infinity) - (b.rank ?? Infinity) : bySize(a, b)));
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

/** The largest first, those without a value last. */
const bySize = (a: Point, b: Point): number =>
  a.value === b.value ? 0 : (b.value ?? -Infinity) - (a.value ?? -Infinity);

const plain = ({ label, value, said }: Point): Point => ({ label, value, said });
const isDay = (f: Field): boolean =>
  f.type === 'date' || f.type === 'datetime' || f.type === 'created' || f.type === 'changed';

function figured(rows: readonly Row[], { figure, of }: Asked): { value: number | null; said: string } {
  const counts = figure === 'count' || !of;
  const v = counts ? rows.length : measured(rows, figure, of);
  const value = typeof v === 'number' ? v : v instanceof DaysDuration ? v.ms / 3_600_000 : null;
  if (v === null) return { value, said: 'none' };
  if (counts || figure === 'filled') return { value, said: display(v) };
  // An average goes on for ever: two places more than nothing are enough to read.
  const read =
    figure === 'average' && typeof v === 'number' && of.field.decimals === undefined ? round(v, 2, 'half up') : v;
  return { value, said: display(read, of.field) };
}

/** Where there is no record nothing adds up to nothing; where there are, and none has a value, there is no sum. */
function measured(rows: readonly Row[], figure: Figure, of: ReadField): Value {
  if (rows.length === 0 && figure === 'sum') return of.field.type === 'duration' ? new DaysDuration(0) : 0;
  return figureOf(
    figure,
    rows.map((r) => of.get(r)),
  );
}

function grouped(rows: readonly Row[], by: ReadField, goesOn = false): Group[] {
  const time = isDay(by.field) ? days(rows.map((r) => by.get(r))) : null;
  const labelled = time ? time.of : (v: Value) => named(v, by.field);
  const groups = new Map<string, Group>();
  if (goesOn && time) for (const { key, label, rank } of time.all()) groups.set(key, { label, rank, rows: [] });
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

/** Days, months or years, so that there are few enough to see: that of a value, and all from the first to the last. */
function days(values: readonly Value[]): { of(v: Value): Named; all(): Named[] } {
  const dayOf = (v: Value): number | null =>
    v instanceof CalendarDate ? v.day : v instanceof DateTime ? Math.floor(v.ms / DAY) : null;
  let [first, last] = [Infinity, -Infinity];
  for (const v of values) {
    const day = dayOf(v);
    if (day !== null) [first, last] = [Math.min(first, day), Math.max(last, day)];
  }
  const span = last - first;
  const on = (day: number): Named => {
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
  const next = (day: number): number => {
    const c = civil(day);
    if (span > 1000) return dayNumber(c.year + 1, 1, 1);
    return span > 45 ? dayNumber(c.year, c.month + 1, 1) : day + 1;
  };
  const all = (): Named[] => {
    const found: Named[] = [];
    for (let day = first; day <= last; day = next(day)) {
      found.push(on(day));
      if (found.length > MOST_BETWEEN) return [];
    }
    return found;
  };
  const of = (v: Value): Named => {
    const day = dayOf(v);
    return day === null ? { key: '', label: 'no date', rank: null } : on(day);
  };
  return { of, all };
}
