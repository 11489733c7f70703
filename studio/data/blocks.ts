import Papa from 'papaparse';
import { fieldKind } from '../../core/fields/kinds.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import type { Draft } from '../../core/records/change.ts';
import { isWritable } from '../../core/records/cells.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { GridCell, GridRow } from '../engine/looking.ts';
import type { Column } from './fields.ts';
import { cellFromText, startText } from './typed.ts';

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

type Place = Pick<Column, 'field' | 'place'>;

/** A block as spreadsheet programs exchange it: lines of cells with tabs between them, dates in ISO 8601. */
export function blockText(columns: readonly Place[], rows: readonly GridRow[], block: Block): string {
  const text = (field: Field, cell: GridCell | undefined): string => {
    if (!cell) return '';
    if (typeof cell.raw === 'boolean') return cell.raw ? 'yes' : 'no';
    if (field.type === 'formula' || field.link || field.several) return cell.shown;
    // As spreadsheet programs read them, and as they are read here again.
    const kind = fieldKind(field.type);
    const own =
      kind.fileText?.(cell.raw) ??
      (kind.formText || kind.valueType(field).k === 'context' ? startText(field, cell.raw) : null);
    if (own !== null) return own;
    if (['datetime', 'created', 'changed'].includes(field.type)) return String(cell.raw ?? '').replace('T', ' ');
    return cell.raw === null ? '' : String(cell.raw);
  };
  const data = rows
    .filter((r) => !r.group)
    .map((r) => columns.slice(block.left, block.right + 1).map((c) => text(c.field, r.cells[c.place])));
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
  columns: readonly Place[],
  rows: readonly string[][],
  ids: readonly string[],
  column: number,
  newId: () => string,
  /** Cells of pasted links, by column and row; other fields read their text themselves. */
  links: ReadonlyMap<number, readonly (Cell | undefined)[]> = new Map(),
): Pasting {
  const out: Pasting = { drafts: [], left: 0, added: 0 };
  rows.forEach((cells, i) => {
    const values: Record<string, Cell> = {};
    cells.forEach((text, k) => {
      const field = columns[column + k]?.field;
      const cell =
        !field || !isWritable(field) ? undefined : field.link ? links.get(k)?.[i] : cellFromText(field, text);
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

/** How many filled cells changes write over with something else, and in how many records. */
export function writtenOver(
  columns: readonly Place[],
  rows: readonly GridRow[],
  drafts: readonly Draft[],
): { cells: number; records: number } {
  const places = new Map(columns.map((c) => [c.field.id, c.place]));
  const there = new Map(rows.map((r) => [r.id, r]));
  let [cells, records] = [0, 0];
  for (const d of drafts) {
    const row = d.do === 'set' ? there.get(d.record) : undefined;
    if (!row || d.do !== 'set') continue;
    const over = Object.entries(d.cells).filter(([field, cell]) => {
      const was = row.cells[places.get(field)!]?.raw ?? null;
      return was !== null && was !== '' && was !== cell;
    }).length;
    cells += over;
    if (over) records++;
  }
  return { cells, records };
}

/** Changes that carry the first row of a block down to its last. */
export function fillDrafts(table: Table, columns: readonly Place[], rows: readonly GridRow[], block: Block): Draft[] {
  const [first, ...rest] = rows.filter((r) => !r.group);
  if (!first) return [];
  const cells = writable(columns, block).map((c) => [c.field.id, first.cells[c.place]?.raw ?? null] as const);
  return cells.length ? rest.map((r) => set(table, r, cells)) : [];
}

/** Changes that empty a block. */
export function clearDrafts(table: Table, columns: readonly Place[], rows: readonly GridRow[], block: Block): Draft[] {
  const cells = writable(columns, block).map((c) => [c.field.id, null] as const);
  return cells.length ? rows.filter((r) => !r.group).map((r) => set(table, r, cells)) : [];
}

const set = (table: Table, row: GridRow, cells: readonly (readonly [string, Cell])[]): Draft => ({
  do: 'set',
  table: table.id,
  record: row.id,
  cells: Object.fromEntries(cells),
});

const writable = (columns: readonly Place[], block: Block): readonly Place[] =>
  columns.slice(block.left, block.right + 1).filter((c) => isWritable(c.field));
