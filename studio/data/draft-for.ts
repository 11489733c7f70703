import type { Cell } from '../../core/fields/lists.ts';
import type { Draft } from '../../core/records/change.ts';
import type { Field, Table } from '../../core/tables/schema.ts';

/** What the person sees and may change of a cell: a matched link is changed by the field it goes by. */
export function draftFor(table: Table, field: Field, record: string, cell: Cell, linked?: Cell): Draft | null {
  if (field.type === 'formula') return null;
  if (field.link?.kind === 'matched')
    return { do: 'set', table: table.id, record, cells: { [field.link.from!]: linked ?? null } };
  return { do: 'set', table: table.id, record, cells: { [field.id]: cell } };
}
