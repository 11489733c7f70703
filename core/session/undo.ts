import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';

/** What takes a change back, and whether the record is still as that left it. */
export interface Undo {
  draft: Draft;
  still(records: Records): boolean;
}

/** How a change is taken back, from the record as it is before that is written. */
export function undoOf(records: Records, d: Draft): Undo {
  const { table, record } = d;
  const before = records.row(table, record);
  if (!before) return { draft: { do: 'remove', table, record }, still: (now) => isAs(now, d) };
  if (d.do !== 'set')
    return {
      draft: { do: 'restore', table, record, cells: { ...before.cells } },
      still: (now) => now.row(table, record) === undefined,
    };
  const cells = Object.fromEntries(Object.keys(d.cells).map((f) => [f, before.cells[f] ?? null]));
  return { draft: { do: 'set', table, record, cells }, still: (now) => isAs(now, d) };
}

/** Has a record the cells that a change gave it? */
function isAs(records: Records, d: Draft): boolean {
  const row = records.row(d.table, d.record);
  return (
    row !== undefined &&
    d.do !== 'remove' &&
    Object.entries(d.cells ?? {}).every(([f, c]) => (row.cells[f] ?? null) === c)
  );
}

/** What takes a run back, from what undoes each of its changes, the last first. Throws where something was changed since. */
export function takenBack(records: Records, undone: readonly Undo[]): Draft[] {
  // What was changed several times is as the last change left it.
  const last = new Map([...undone].reverse().map((u) => [`${u.draft.table} ${u.draft.record}`, u]));
  if (![...last.values()].every((u) => u.still(records))) throw new Error('it was changed meanwhile.');
  return undone.map((u) => u.draft);
}
