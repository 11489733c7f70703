import type { Figure } from '../tables/schema.ts';
import { fix } from '../formula/number.ts';
import { compare, DaysDuration, type Value } from '../formula/values.ts';

/** One figure of many values: how many, how many are filled in, their sum, average, lowest or highest. */
export function figureOf(figure: Figure, values: Iterable<Value>): Value {
  let count = 0;
  let filled = 0;
  let total = 0;
  let numbers = 0;
  let durations = 0;
  let least: Value = null;
  let most: Value = null;
  for (const v of values) {
    count++;
    if (v === null || v === '' || (Array.isArray(v) && v.length === 0)) continue;
    filled++;
    if (typeof v === 'number') {
      total += v;
      numbers++;
    } else if (v instanceof DaysDuration) {
      total += v.ms;
      durations++;
    }
    if (least === null || (compare(v, least) ?? 0) < 0) least = v;
    if (most === null || (compare(v, most) ?? 0) > 0) most = v;
  }
  switch (figure) {
    case 'count':
      return count;
    case 'filled':
      return filled;
    case 'lowest':
      return least;
    case 'highest':
      return most;
    default: {
      const n = numbers + durations;
      if (n === 0) return null;
      // Numbers and durations have no sum together.
      if (numbers && durations) return null;
      const value = figure === 'sum' ? total : total / n;
      return durations ? new DaysDuration(Math.round(value)) : fix(value);
    }
  }
}
