import type { Value } from '../formula/values.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { Field } from '../tables/schema.ts';

/** The fields and values of a table as they are exported: links by the title of their record. */
export interface TableExport {
  name: string;
  fields: Field[];
  rows: Value[][];
  /** Headers are the names of fields, and numbers stand alone: for files that are read by their fields. */
  isBare?: true;
}

export function exportTable(records: Records, tableId: string): TableExport {
  const model = records.model.tables.get(tableId);
  if (!model) throw new Error('There is no such table.');
  const members = model.table.fields.map((f) => model.members.find((m) => m.id === f.id)!);
  /** A cell that is empty goes out empty, also where it counts as no. */
  const isEmpty = (r: Row, i: number): boolean => {
    const { type, link, id } = model.table.fields[i]!;
    return type !== 'formula' && !link && (r.cells[id] ?? null) === null;
  };
  return {
    name: model.table.name,
    fields: model.table.fields,
    rows: records.rows(tableId).map((r) => members.map((m, i) => (isEmpty(r, i) ? null : m.get(r)))),
  };
}
