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
    if (this.isEmpty || change.do === 'remove' || !change.cells) return change;
    const cells = { ...change.cells };
    let isOther = false;
    for (const [field, cell] of Object.entries(cells)) {
      if (typeof cell !== 'string') continue;
      const list = listCell(cell);
      if (!list.some((id) => this.by.has(id))) continue;
      const now = list.map((id) => this.by.get(id) ?? id);
      cells[field] = cell.startsWith('[') ? toListCell(now) : now[0]!;
      isOther = true;
    }
    return isOther ? ({ ...change, cells } as Change) : change;
  }
}
