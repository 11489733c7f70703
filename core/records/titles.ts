import type { Field } from '../tables/schema.ts';
import { toListCell, type Cell } from '../fields/lists.ts';
import type { Records } from './store.ts';

/** Records by their titles, and back. */
export class Titles {
  private readonly tables = new Map<string, Map<string, string>>();
  constructor(private readonly records: Records) {}

  readonly title = (table: string, record: string): string => this.records.row(table, record)?.title() ?? '';

  find(table: string, title: string): string | undefined {
    let ids = this.tables.get(table);
    if (!ids) {
      ids = new Map();
      for (const row of this.records.rows(table)) {
        const name = row.title().trim().toLowerCase();
        if (!ids.has(name)) ids.set(name, row.id);
      }
      this.tables.set(table, ids);
    }
    return ids.get(title.trim().toLowerCase());
  }
}

/**
 * The cell of a picked link from the title of its record, or titles with commas between them where it takes several.
 * Undefined when there is no such record.
 */
export function linkedCell(field: Field, text: string, titles: Pick<Titles, 'find'>): Cell | undefined {
  const table = field.link!.table;
  if (!field.several) return titles.find(table, text);
  const ids = text.split(',').map((t) => titles.find(table, t));
  return ids.includes(undefined) ? undefined : toListCell(ids as string[]);
}
