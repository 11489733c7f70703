import type { Value } from '../formula/values.ts';
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
  return {
    name: model.table.name,
    fields: model.table.fields,
    rows: records.rows(tableId).map((r) => members.map((m) => m.get(r))),
  };
}
