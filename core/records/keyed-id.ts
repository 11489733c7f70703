import { hashOf } from '../fields/keep-file.ts';
import type { Cells } from './store.ts';

/**
 * The id of the record of a table with these values in these fields, for one that is made by adding to it: every device
 * that makes it without knowing of the others makes the same.
 */
export function keyedId(table: string, cells: Cells): string {
  const text = JSON.stringify([table, Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1))]);
  return `k${hashOf(new TextEncoder().encode(text)).slice(0, 30)}`;
}
