import { fieldKind } from '../../kinds/fields/index.ts';
import type { Cell } from '../fields/lists.ts';
import { beginning } from './begin.ts';
import { trialRow } from './checks.ts';
import { isSeveral } from './model.ts';
import { Row } from './row.ts';
import type { Records } from './store.ts';

/** A record as a form shows it: its cells, durations in words, links by the id of their record. */
export function formValues(row: Row): Record<string, Cell> {
  const values: Record<string, Cell> = { ...row.cells };
  // Some types are written otherwise than they are kept, as durations are in words.
  for (const f of row.store.model.table.fields) {
    const cell = values[f.id];
    const { formText } = fieldKind(f.type);
    if (formText && cell !== undefined && cell !== null) values[f.id] = formText(cell);
  }
  for (const end of row.store.model.links) {
    if (end.back) continue;
    if (isSeveral(end.field)) continue; // its cell is the list of ids already
    const there = row.follow(end);
    values[end.id] = there instanceof Row ? there.id : null;
  }
  return values;
}

/** What a form for a new record begins with. */
export function beginningValues(records: Records, table: string): Record<string, Cell> {
  const store = records.stores.get(table);
  if (!store) return {};
  const id = 'new';
  const cells = beginning(store, id, {});
  return Object.keys(cells).length ? formValues(trialRow(store, id, cells)) : {};
}
