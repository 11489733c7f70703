import type { Group } from '../../../core/records/groups.ts';
import type { Row } from '../../../core/records/row.ts';
import type { Head } from './arranging.ts';

/** Part of a list whose records are put together: heads and records, a line each. */
export function linesOf(
  groups: readonly Group[],
  from: number,
  count: number,
  sum: (rows: readonly Row[]) => string,
): { total: number; from: number; heads: Head[]; rows: Row[] } {
  const heads: Head[] = [];
  const rows: Row[] = [];
  let at = 0;
  const [first, end] = [from, from + count];
  for (const g of groups) {
    const next = at + 1 + g.rows.length;
    if (next > first && at < end) {
      if (at >= first) heads.push({ at, key: g.key, label: g.label, count: g.rows.length, sum: sum(g.rows) });
      rows.push(...g.rows.slice(Math.max(0, first - at - 1), Math.max(0, end - at - 1)));
    }
    at = next;
  }
  return { total: at, from, heads, rows };
}
