import type { May } from '../app/access-schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { Draft } from '../records/change.ts';
import { trialRow } from '../records/checks.ts';
import { cellsAfter } from '../records/raise.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { Table } from '../tables/schema.ts';

/** As much of a rule as says what it lets somebody write. */
interface Lets {
  fields: ReadonlySet<string>;
}

/**
 * Why a change may not be made: rules must let it be made as the record was and as it becomes, field by field. Null where
 * they do. `fitting` gives the rules that let somebody do something with a record as it is.
 */
export function refusedBy(
  records: Records,
  table: Table,
  change: Draft,
  fitting: (may: May, row: Row) => readonly Lets[],
): string | null {
  const store = records.stores.get(table.id)!;
  const row = store.byId.get(change.record);
  if (change.do === 'remove')
    return row && fitting('remove', row).length ? null : `You may not remove this ${table.one}.`;
  // Of a record that they do not see nobody hears that it is there.
  const isKnown = row && fitting('see', row).length > 0;
  let cells: Record<string, Cell>;
  try {
    cells = cellsAfter(records, change as never);
  } catch (e) {
    return (e as Error).message;
  }
  const becomes = trialRow(store, change.record, cells);
  const may: May = row ? 'change' : 'add';
  const none = `You may not add such ${table.name}.`;
  const before = row ? fitting(may, row) : null;
  if (before?.length === 0) return isKnown ? `You may not change this ${table.one}.` : none;
  const after = fitting(may, becomes);
  if (after.length === 0) return isKnown ? `You may not change this ${table.one} so.` : none;
  const [was, is] = [allOf(before ?? after), allOf(after)];
  // A new record says nothing of the fields that it leaves empty.
  const closed = Object.keys(cells).find((f) => (row || cells[f] !== null) && !(was.has(f) && is.has(f)));
  if (closed === undefined) return null;
  const name = table.fields.find((f) => f.id === closed)?.name ?? 'a field';
  return `You may not ${isKnown ? 'change' : 'fill in'} ${name} of this ${table.one}.`;
}

/** The fields of several rules together. */
export const allOf = (rules: readonly Lets[]): ReadonlySet<string> =>
  rules.length === 1 ? rules[0]!.fields : new Set(rules.flatMap((r) => [...r.fields]));
