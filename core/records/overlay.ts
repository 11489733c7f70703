import type { Draft } from './change.ts';
import { cellsAfter } from './raise.ts';
import type { Cells, Records } from './store.ts';

/**
 * Changes laid over records for a while: formulas, queries and checks read them as if they were made, and lifting takes
 * every trace of them away. Nothing else may change the records in between, so lay and lift without waiting.
 */
export class Overlay {
  private readonly undo: (() => void)[] = [];
  constructor(private readonly records: Records) {}

  lay(drafts: readonly Draft[]): void {
    for (const d of drafts) this.layOne(d);
  }

  private layOne(d: Draft): void {
    const { records } = this;
    const row = records.row(d.table, d.record);
    if ((d.do === 'set' || d.do === 'raise') && row) {
      const cells = cellsAfter(records, d);
      const absent = Object.keys(cells).filter((f) => !(f in row.cells));
      const before: Cells = Object.fromEntries(Object.keys(cells).map((f) => [f, row.cells[f] ?? null]));
      records.set(d.table, d.record, cells);
      this.undo.push(() => {
        records.set(d.table, d.record, before);
        for (const f of absent) delete row.cells[f];
      });
    } else if (d.do === 'set' || (d.do === 'raise' && d.makes)) {
      records.set(d.table, d.record, cellsAfter(records, d));
      this.undo.push(() => records.remove(d.table, d.record));
    } else if (d.do === 'remove' && row) {
      records.remove(d.table, d.record);
      this.undo.push(() => records.putBack(row));
    }
  }

  lift(): void {
    for (let back = this.undo.pop(); back; back = this.undo.pop()) back();
  }
}
