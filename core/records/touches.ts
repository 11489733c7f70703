import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { readKey, type Changes } from './changes.ts';
import type { Thing } from './model.ts';
import { Row } from './row.ts';
import type { Records } from './store.ts';

/**
 * Did something happen to what a formula reads from these things? Along links it is followed to the very records; where
 * a formula reads any record of a table, any change there counts.
 */
export function touches(
  d: Dependency,
  changes: Changes,
  at: { records: Records; things: readonly Thing[] },
  values: readonly Value[],
): boolean {
  const rows = changes.rows.get(readKey(d.table, d.field));
  if (!rows) return false;
  const { origin } = d;
  if (origin.from !== 'thing') return true;
  const thing = at.things.findIndex((t) => t.id === origin.thing);
  const start = values[thing];
  if (!(start instanceof Row)) return false;
  let reached: readonly Row[] = [start];
  let table = start.tableId;
  for (const hop of origin.hops) {
    const end = at.records.model.tables.get(table)?.links.find((l) => l.id === hop);
    if (!end) return true;
    reached = reached.flatMap((r) => at.records.followAll(r, end));
    table = end.target;
  }
  return reached.some((r) => rows.has(r));
}
