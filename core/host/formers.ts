import { listCell, toListCell } from '../fields/lists.ts';
import type { Change, RecordState } from '../records/change.ts';

/**
 * What links have in place of those who were erased. Phones that have not heard of it yet go on writing links to them:
 * what they write leads to who they are now.
 */
export class Formers {
  private readonly by = new Map<string, string>();

  get isEmpty(): boolean {
    return this.by.size === 0;
  }

  note({ id, erased }: Pick<RecordState, 'id' | 'erased'>): void {
    if (erased) this.by.set(id, erased);
  }

  /** The change without those who were erased; the same where it names none of them. */
  in(change: Change): Change {
    if (this.isEmpty || change.do === 'remove') return change;
    const cells = change.cells && this.without(change.cells);
    if (change.do !== 'raise' || !change.makes)
      return cells === change.cells ? change : ({ ...change, cells } as Change);
    const makes = this.without(change.makes);
    return cells === change.cells && makes === change.makes ? change : { ...change, ...(cells && { cells }), makes };
  }

  /** Cells without those who were erased; the same where they name none of them. */
  private without(given: RecordState['cells']): RecordState['cells'] {
    const cells = { ...given };
    let isOther = false;
    for (const [field, cell] of Object.entries(cells)) {
      if (typeof cell !== 'string') continue;
      const list = listCell(cell);
      if (!list.some((id) => this.by.has(id))) continue;
      const now = list.map((id) => this.by.get(id) ?? id);
      cells[field] = cell.startsWith('[') ? toListCell(now) : now[0]!;
      isOther = true;
    }
    return isOther ? cells : given;
  }
}
