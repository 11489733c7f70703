import { listCell, toListCell } from '../../core/fields/lists.ts';
import type { Draft } from '../../core/records/change.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';

/** Makes a field hold several, or one. One becomes several without loss; of several only the first stays, so that is said. */
export function useSeveral(table: Table, field: Field): (several: boolean) => Promise<void> {
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  return async (several: boolean): Promise<void> => {
    const column = await engine.looking.column(table.id, field.id);
    const drafts: Draft[] = [];
    let lost = 0;
    for (const { id, cell } of column) {
      const items = listCell(cell);
      const next = several ? toListCell(items) : (items[0] ?? null);
      if (!several && items.length > 1) lost++;
      if (next !== cell) drafts.push({ do: 'set', table: table.id, record: id, cells: { [field.id]: next } });
    }
    await edit(
      `${field.name} holds ${several ? 'several' : 'one'}`,
      (a) => {
        const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
        if (several) f.several = true;
        else delete f.several;
      },
      { drafts },
    );
    if (lost) toastWithUndo(`${lost} ${lost === 1 ? 'record' : 'records'} held several; the first of them stays.`);
  };
}
