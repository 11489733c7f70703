import { fieldKind } from '../fields/kinds.ts';
import { toListCell, type Cell } from '../fields/lists.ts';
import type { Value } from '../formula/values.ts';
import { beginning } from './begin.ts';
import { keptCell } from './cells.ts';
import { checkCell } from './check-cell.ts';
import { trialRow } from './checks.ts';
import { isSeveral } from './model.ts';
import { Row } from './row.ts';
import type { Field } from '../tables/schema.ts';
import type { Records } from './store.ts';

/** A record as a form shows it: its cells, durations in words, links by the id of their record. */
export function formValues(row: Row): Record<string, Cell> {
  const values: Record<string, Cell> = { ...row.cells };
  for (const f of row.store.model.table.fields) if (f.id in values || f.link) values[f.id] = formCell(row, f);
  return values;
}

/** One cell as a form shows it: some types are written otherwise than they are kept, as durations are in words. */
export function formCell(row: Row, field: Field): Cell {
  const cell = row.cells[field.id] ?? null;
  if (field.link && !isSeveral(field)) {
    const end = row.store.model.links.find((l) => l.id === field.id);
    const there = end && row.follow(end);
    return there instanceof Row ? there.id : null;
  }
  const { formText } = fieldKind(field.type);
  return formText && cell !== null ? formText(cell) : cell;
}

/** A value as an input of a form for this field shows it; null where it does not fit. */
export function formBeginning(field: Field, value: Value): Cell {
  if (field.link) {
    const ids = (Array.isArray(value) ? value : [value]).flatMap((v) =>
      v instanceof Row && v.tableId === field.link!.table ? [v.id] : [],
    );
    return field.several ? toListCell(ids) : (ids[0] ?? null);
  }
  const cell = keptCell(field, value);
  const { formText } = fieldKind(field.type);
  return cell === null || checkCell(field, cell) !== null ? null : formText ? formText(cell) : cell;
}

/** What a form for a new record begins with. */
export function beginningValues(records: Records, table: string): Record<string, Cell> {
  const store = records.stores.get(table);
  if (!store) return {};
  const id = 'new';
  const cells = beginning(store, id, {});
  return Object.keys(cells).length ? formValues(trialRow(store, id, cells)) : {};
}
