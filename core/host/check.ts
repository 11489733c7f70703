import type { App } from '../app/schema.ts';
import { fieldOf, tableOf } from '../tables/names.ts';
import { checkCell } from '../records/check-cell.ts';
import { fetchedSaid } from '../records/checks.ts';
import type { Draft } from '../records/change.ts';
import { canRaise } from '../records/raise.ts';

/** Said of what is written to a record that somebody has removed meanwhile. */
export const goneSaid = (app: App, table: string): string =>
  `This ${tableOf(app, table)?.one ?? 'record'} was removed meanwhile, so there is nothing to write to.`;

/** Why a change does not fit the app, or null when it does. */
export function checkChange(app: App, change: Draft): string | null {
  const table = tableOf(app, change.table);
  if (!table) return 'This table is not part of the released app.';
  if (table.fetched) return fetchedSaid(table);
  if (change.do === 'remove') return null;
  const cells = change.do === 'raise' ? [change.makes ?? {}, change.cells ?? {}] : [change.cells ?? {}];
  for (const [id, cell] of cells.flatMap((c) => Object.entries(c))) {
    const field = fieldOf(table, id);
    if (!field) return `A field of ${table.name} is not part of the released app.`;
    const wrong = checkCell(field, cell);
    if (wrong) return wrong;
  }
  if (change.do !== 'raise') return null;
  for (const id of Object.keys(change.by)) {
    const field = fieldOf(table, id);
    if (!field) return `A field of ${table.name} is not part of the released app.`;
    if (!canRaise(field)) return `Nothing can be added to ${field.name}: it keeps no number.`;
  }
  return null;
}
