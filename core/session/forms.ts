import '../fields/typed-texts.ts';
import { fieldOf } from '../tables/names.ts';
import type { Table } from '../tables/schema.ts';
import type { Cell } from '../fields/lists.ts';
import { isWritable, readCell, typedCell } from '../records/cells.ts';
import { checkCell, spokenType } from '../records/check-cell.ts';
import { recordProblem } from '../records/checks.ts';
import type { Records } from '../records/store.ts';

/** What a person filled in, read by the types of its fields; or for each field what is wrong with it. */
export type FormReading = { cells: Record<string, Cell> } | { problems: Record<string, string> };

/**
 * Reads a form. Texts are taken as people type them, with either decimal sign; a link is given by the id of its record.
 * `id` is the record that the cells are for, new or present.
 */
export function readForm(
  records: Records,
  table: Table,
  id: string,
  isNew: boolean,
  values: Record<string, Cell>,
): FormReading {
  const problems: Record<string, string> = {};
  const cells: Record<string, Cell> = {};
  for (const [fieldId, cell] of Object.entries(values)) {
    const field = fieldOf(table, fieldId);
    if (!field || (!isWritable(field) && field.link?.kind !== 'matched')) continue;
    if (field.link?.kind === 'matched') {
      const there = cell === null ? null : records.row(field.link.table, String(cell));
      cells[field.link.from!] = there?.cells[field.link.to!] ?? null;
      continue;
    }
    const read = typeof cell === 'string' ? (typedCell(field, cell) ?? typedCell(field, cell, 'day first', ',')) : cell;
    const wrong =
      read === undefined ? `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)}.` : checkCell(field, read);
    if (wrong) problems[fieldId] = wrong;
    cells[fieldId] = read ?? null;
  }
  for (const f of table.fields) {
    const source = f.link?.kind === 'matched' ? f.link.from! : f.id;
    const answered = (cells[source] ?? null) !== null || readCell(f, null) !== null;
    if (answered) continue;
    if (f.required && f.id in values) problems[f.id] = `${f.name} is needed.`;
    else if (f.required && f.id in cells) {
      // It is filled in by a link that is matched by it: there it is asked for.
      const link = table.fields.find((l) => l.link?.kind === 'matched' && l.link.from === f.id && l.id in values);
      if (link) problems[link.id] = `${link.name} is needed.`;
    }
  }
  // What is fetched is written by its service, which says itself what it does not take.
  const refused = table.fetched ? null : recordProblem(records, table.id, id, cells);
  if (refused && !(refused.field in problems)) problems[refused.field] = refused.said;
  if (Object.keys(problems).length) return { problems };
  if (isNew && Object.values(cells).every((c) => c === null))
    return { problems: { '': 'Fill in at least one field before saving.' } };
  // A switch that nobody touched says no.
  if (isNew)
    for (const f of table.fields)
      if (f.id in cells && cells[f.id] === null && readCell(f, null) === false) cells[f.id] = false;
  return { cells };
}
