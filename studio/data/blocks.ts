import Papa from 'papaparse';
import type { Field, Table } from '../../core/app/schema.ts';
import type { Draft } from '../../core/host/change.ts';
import type { Cell } from '../../core/records/cells.ts';
import type { GridPage } from '../engine/engine.ts';
import { cellFromText } from './typed.ts';

/** A place in the grid. */
export interface Spot {
  row: number;
  column: number;
}
export interface Block {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/** The block between two spots, both included. */
export const blockOf = (a: Spot, b: Spot): Block => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});
export const inBlock = (b: Block, row: number, column: number): boolean =>
  row >= b.top && row <= b.bottom && column >= b.left && column <= b.right;

/** A block as spreadsheet programs exchange it: lines of cells with tabs between them, dates in ISO 8601. */
export function blockText(fields: readonly Field[], rows: GridPage['rows'], block: Block): string {
  const text = (field: Field, cell: GridPage['rows'][number]['cells'][number] | undefined): string => {
    if (!cell) return '';
    if (typeof cell.raw === 'boolean') return cell.raw ? 'yes' : 'no';
    if (field.type === 'formula' || field.link) return cell.shown;
    return cell.raw === null ? '' : String(cell.raw);
  };
  const data = rows.map((r) =>
    fields.slice(block.left, block.right + 1).map((f, i) => text(f, r.cells[block.left + i])),
  );
  return Papa.unparse(data, { delimiter: '\t', newline: '\r\n' });
}

/** The cells of a pasted text. */
export function cellsOf(text: string): string[][] {
  const rows = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' }).data;
  return rows.length === 1 && rows[0]!.length === 1 && rows[0]![0] === '' ? [] : rows;
}

export interface Pasting {
  drafts: Draft[];
  /** Cells that do not fit their field, or that cannot be written. */
  left: number;
  added: number;
}

/** Changes that a pasted block makes: present records from the spot on, new ones below the last. */
export function pasteDrafts(
  table: Table,
  rows: readonly string[][],
  ids: readonly string[],
  column: number,
  newId: () => string,
): Pasting {
  const out: Pasting = { drafts: [], left: 0, added: 0 };
  rows.forEach((cells, i) => {
    const values: Record<string, Cell> = {};
    cells.forEach((text, k) => {
      const field = table.fields[column + k];
      const cell = field && !field.link && field.type !== 'formula' ? cellFromText(field, text) : undefined;
      if (cell === undefined) out.left += text.trim() ? 1 : 0;
      else values[field!.id] = cell;
    });
    if (Object.keys(values).length === 0) return;
    const id = ids[i];
    if (!id) out.added++;
    out.drafts.push({ do: 'set', table: table.id, record: id ?? newId(), cells: values });
  });
  return out;
}

/** Changes that carry the first row of a block down to its last. */
export function fillDrafts(table: Table, rows: GridPage['rows'], block: Block): Draft[] {
  const [first, ...rest] = rows;
  if (!first) return [];
  const cells = writable(table, block).map(([f, i]) => [f.id, first.cells[i]?.raw ?? null] as const);
  return cells.length
    ? rest.map((r) => ({ do: 'set' as const, table: table.id, record: r.id, cells: Object.fromEntries(cells) }))
    : [];
}

/** Changes that empty a block. */
export function clearDrafts(table: Table, rows: GridPage['rows'], block: Block): Draft[] {
  const cells = writable(table, block).map(([f]) => [f.id, null] as const);
  return cells.length
    ? rows.map((r) => ({ do: 'set' as const, table: table.id, record: r.id, cells: Object.fromEntries(cells) }))
    : [];
}

const writable = (table: Table, block: Block): [Field, number][] =>
  table.fields
    .map((f, i): [Field, number] => [f, i])
    .filter(([f, i]) => i >= block.left && i <= block.right && f.type !== 'formula' && f.link?.kind !== 'matched');
