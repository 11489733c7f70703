import type { App } from '../app/schema.ts';
import type { Change } from '../records/change.ts';
import { display } from '../records/format.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';

/** Longer values are cut where they are told in a sentence. */
const MOST = 40;
const short = (text: string): string => (text.length > MOST ? `${text.slice(0, MOST).trimEnd()}…` : text);

/** A field of a record as people read it; “nothing” where it has none. */
export function shownField(records: Records, row: Row | undefined, field: string): string {
  const known = row && records.model.tables.get(row.tableId)?.fields.get(field);
  return (row && known && short(display(row.get(field), known))) || 'nothing';
}

/** What a record is called, with its table: “Hives › Bramble 3”. */
export function recordName(app: App, records: Records, table: string, record: string): string {
  const known = app.tables.find((t) => t.id === table);
  const title = records.row(table, record)?.title();
  return `${known?.name ?? 'A table'} › ${short(title || record)}`;
}

/** Changes that a server took, each record once, as they are in its records now. */
export function changesSaid(app: App, records: Records, changes: readonly Change[]): string[] {
  const of = new Map<string, { change: Change; fields: Set<string>; removed: boolean }>();
  for (const c of changes) {
    const known = of.get(c.record) ?? { change: c, fields: new Set<string>(), removed: false };
    if (c.do === 'remove') known.removed = true;
    else {
      known.removed = false;
      for (const f of Object.keys(c.cells ?? {})) known.fields.add(f);
      if (c.do === 'raise') for (const f of Object.keys(c.by)) known.fields.add(f);
    }
    of.set(c.record, known);
  }
  return Array.from(of.values(), ({ change: { table, record }, fields, removed }) => {
    const name = recordName(app, records, table, record);
    if (removed) return `${name} was removed`;
    const row = records.row(table, record);
    const model = records.model.tables.get(table);
    const values = [...fields].flatMap((id) => {
      const field = model?.fields.get(id);
      return model && field && field.id !== model.table.titleField
        ? [`${field.name} ${shownField(records, row, id)}`]
        : [];
    });
    const more = values.length > 3 ? [`and ${values.length - 3} more`] : [];
    return `${name}${values.length ? `: ${[...values.slice(0, 3), ...more].join(', ')}` : ''}`;
  });
}
