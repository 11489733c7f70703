import type { Cells, Records } from './store.ts';
import { linkKey } from './store.ts';

/** Says which cell would hold a value that another record holds already in a field whose values differ; null when none. */
export function uniqueProblem(
  records: Records,
  table: string,
  record: string,
  cells: Cells,
): { field: string; said: string } | null {
  const store = records.stores.get(table);
  for (const field of store?.model.table.fields ?? []) {
    if (!field.unique || !(field.id in cells)) continue;
    const key = linkKey(cells[field.id]);
    if (
      key !== null &&
      store!
        .index(field.id)
        .get(key)
        ?.some((row) => row.id !== record)
    ) {
      return {
        field: field.id,
        said: `${field.name} “${String(cells[field.id])}” is taken by another ${store!.model.table.one}.`,
      };
    }
  }
  return null;
}
