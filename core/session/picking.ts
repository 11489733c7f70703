import type { Records } from '../records/store.ts';
import { MOST_CHOICES } from './effects.ts';

/** The titles of records, by their ids. */
export const titlesOf = (records: Records, table: string, ids: readonly string[]): Record<string, string> =>
  Object.fromEntries(
    ids.map((id) => [id, (records.row(table, id) ?? records.stores.get(table)?.former(id))?.title() ?? 'gone']),
  );

/** Records to pick from for a link, by title. */
export function choicesOf(
  records: Records,
  table: string,
  search: string,
  limit = MOST_CHOICES,
): { id: string; title: string }[] {
  const wanted = search.trim().toLowerCase();
  const out: { id: string; title: string }[] = [];
  for (const row of records.rows(table)) {
    const title = row.title();
    if (wanted && !title.toLowerCase().includes(wanted)) continue;
    out.push({ id: row.id, title });
    if (out.length >= limit) break;
  }
  return out.sort((a, b) => a.title.localeCompare(b.title, 'en', { numeric: true }));
}
