// Apart from the other cells, so that the page of a released app can have it without them.

/**
 * A stored cell: what goes into files and over the wire. Dates are ISO 8601 text, a picked link is a record id,
 * several of something are a JSON list as text, a place is its two numbers with a comma between them, and a file
 * is a data address (RFC 2397).
 */
export type Cell = string | number | boolean | null;

/** The items of a cell that holds several: choices, or ids of records. */
export function listCell(cell: Cell | undefined): string[] {
  if (typeof cell !== 'string' || cell === '') return [];
  if (!cell.startsWith('[')) return [cell];
  try {
    const list: unknown = JSON.parse(cell);
    return Array.isArray(list) ? list.filter((x): x is string => typeof x === 'string') : [cell];
  } catch {
    return [cell];
  }
}

/** The cell that holds several items, each once; nothing when there are none. */
export const toListCell = (items: readonly string[]): Cell =>
  items.length ? JSON.stringify([...new Set(items)]) : null;

/** How many letters cells have in all; numbers and the like are nothing beside a file. */
export const lettersOf = (cells: Readonly<Record<string, Cell>>): number =>
  Object.values(cells).reduce<number>((n, c) => n + (typeof c === 'string' ? c.length : 0), 0);
