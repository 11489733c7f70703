import type { Cell } from '../fields/lists.ts';
import type { Change } from '../records/change.ts';

/** What became of one cell. */
export interface PastCell {
  field: string;
  was: Cell;
  is: Cell;
  /** Where an amount was added: by how much. */
  by?: number;
}

/** What happened to a record at one time. */
export interface PastChange {
  change: Change;
  did: 'made' | 'changed' | 'removed' | 'brought back';
  cells: PastCell[];
}

/**
 * What became of a record by its changes, the earliest first: merged by their stamps as `Replica` merges them, so that
 * the last that is said of a cell is what the cell holds. What changed nothing is left out.
 */
export function pastOf(changes: readonly Change[]): PastChange[] {
  const inOrder = changes.toSorted((a, b) => (a.stamp < b.stamp ? -1 : a.stamp > b.stamp ? 1 : 0));
  const past: PastChange[] = [];
  let cells: Record<string, Cell> = {};
  /** What a removed record had: it comes back with that where what brings it back says nothing. */
  let before: Record<string, Cell> = {};
  let isThere = false;
  let removed = '';
  const write = (change: Change, did: PastChange['did'], given: Record<string, Cell>): void => {
    const amounts = change.do === 'set' ? change.amounts : undefined;
    const done = Object.entries(given).flatMap(([field, is]): PastCell[] => {
      const was = cells[field] ?? null;
      const amount = amounts?.[field];
      return was === is ? [] : [{ field, was, is, ...(amount && 'by' in amount && { by: amount.by }) }];
    });
    cells = { ...cells, ...given };
    if (done.length || did !== 'changed') past.push({ change, did, cells: done });
  };
  for (const c of inOrder) {
    if (c.do === 'raise') continue;
    if (c.do === 'remove') {
      const had = cells;
      // One that several have removed was removed once, unless something was written to it in between.
      if (isThere || Object.keys(cells).length) {
        write(c, 'removed', Object.fromEntries(Object.keys(cells).map((f) => [f, null])));
        before = had;
      }
      [cells, isThere, removed] = [{}, false, c.stamp];
    } else if (c.do === 'restore') {
      const did = isThere ? 'changed' : removed ? 'brought back' : 'made';
      isThere = true;
      write(c, did, c.cells ?? before);
    } else {
      // What is written to a removed record is seen when it is brought back.
      const isNew: boolean = !isThere && !removed;
      isThere ||= isNew;
      write(c, isNew ? 'made' : 'changed', c.cells);
    }
  }
  return past;
}
