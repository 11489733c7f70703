import type { Row } from './row.ts';

/**
 * Records in the order they came. Taking many out, or putting many back, costs no more than going through them once:
 * the list is put right when it is next read.
 */
export class OrderedRows {
  private rows: Row[] = [];
  private readonly gone = new Set<Row>();
  private isSorted = true;

  /** The records. The list may be another after a change; what was read before may change with it. Nobody else changes it. */
  get list(): Row[] {
    if (this.gone.size) {
      this.rows = this.rows.filter((r) => !this.gone.has(r));
      this.gone.clear();
    }
    if (!this.isSorted) this.rows.sort((a, b) => a.order - b.order);
    this.isSorted = true;
    return this.rows;
  }

  add(row: Row): void {
    // One that was taken out and comes back is still in its place.
    if (this.gone.delete(row)) return;
    const last = this.rows.at(-1);
    if (last && last.order > row.order) this.isSorted = false;
    this.rows.push(row);
  }

  remove(row: Row): void {
    this.gone.add(row);
  }
}
