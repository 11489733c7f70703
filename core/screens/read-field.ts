import type { ReadField } from '../records/groups.ts';
import type { Drawing } from './element.ts';

/** A field of the records of a table and how it is read; the element is drawn again when any of them changes. */
export function readField(d: Drawing, table: string, id: string | undefined): ReadField | null {
  const model = d.records.model.tables.get(table);
  const field = id ? model?.fields.get(id) : undefined;
  const member = model?.members.find((m) => m.id === id);
  if (!field || !member) return null;
  d.reads(table, field.id);
  return { field, get: (row) => member.get(row) };
}
