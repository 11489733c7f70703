import type { FieldType } from '../tables/schema.ts';
import { MOST_COLUMNS } from '../document/limits.ts';
import { freeName } from '../document/names.ts';
import { typedCell } from '../records/cells.ts';
import type { FieldDefinition, Sample } from '../fields/kind.ts';
import { fieldKind, FIELDS } from '../../kinds/fields/index.ts';
import type { Cell } from '../fields/lists.ts';
import { readDateText, readNumberText, type DayOrder } from '../fields/read-text.ts';
import type { Sheet } from './sheet.ts';

/** A column of a sheet as it will become a field. */
export interface ColumnDraft {
  name: string;
  type: ColumnType;
  /** Place in the sheet's rows. */
  column: number;
  decimal: '.' | ',';
  dayOrder: DayOrder;
  /** True when the dates can be read day first or month first, and nothing in the column tells which. */
  ambiguous: boolean;
  samples: string[];
  skip?: boolean;
}
/** The types a column of a file can become. */
export type ColumnType = Exclude<
  FieldType,
  'link' | 'formula' | 'id' | 'created' | 'changed' | 'file' | 'sound' | 'plan'
>;

/** A sheet as it will become a table. */
export interface TableDraft {
  name: string;
  sheet: Sheet;
  /** Row of the headers, counted from 0; -1 when there is none. */
  headerRow: number;
  columns: ColumnDraft[];
  notes: string[];
}

/** A row or cell that could not be read. */
export interface Unread {
  line: number;
  reason: string;
}

const SAMPLE = 2000;
const MAIL = /^[^\s@<>,;]+@[^\s@<>,;]+\.[^\s@<>,;]+$/;

/** Makes a table draft of a sheet: finds the header row, names and types the columns. */
export function draftTable(sheet: Sheet, headerRow = findHeader(sheet)): TableDraft {
  const body = sheet.rows.slice(headerRow + 1);
  const header = headerRow < 0 ? [] : sheet.rows[headerRow]!;
  const width = headerRow < 0 ? Math.max(...body.slice(0, SAMPLE).map((r) => r.length)) : header.length;
  const notes = [...sheet.notes];
  const names: string[] = [];
  const columns: ColumnDraft[] = [];
  for (let i = 0; i < width; i++) {
    const given = (header[i] ?? '').replace(/\s+/g, ' ').trim().slice(0, 100);
    const step = Math.max(1, Math.floor(body.length / SAMPLE));
    const values: string[] = [];
    for (let r = 0; r < body.length; r += step) {
      const v = (body[r]![i] ?? '').trim();
      if (v) values.push(v);
    }
    if (!given && values.length === 0) continue;
    const name = freeName(given || `Column ${i + 1}`, names);
    if (!given && headerRow >= 0) notes.push(`Column ${i + 1} has no header; it is called “${name}”.`);
    else if (given && name !== given)
      notes.push(`“${given}” is the header of two columns; the second is called “${name}”.`);
    names.push(name);
    columns.push({ name, column: i, ...inferType(values, name), samples: values.slice(0, 4) });
  }
  const beyond = columns.slice(MOST_COLUMNS);
  for (const c of beyond) c.skip = true;
  if (beyond.length)
    notes.push(
      `It has ${columns.length} columns; a table takes ${MOST_COLUMNS} of them. Those from “${beyond[0]!.name}” on are left out; take out others to bring them in.`,
    );
  return { name: sheet.name, sheet, headerRow, columns, notes };
}

/** The row that names the columns: the first that is about as wide as the table, unless it reads like data. */
function findHeader(sheet: Sheet): number {
  const head = sheet.rows.slice(0, 10);
  const filled = (r: string[]): number => r.filter((c) => c.trim()).length;
  const widest = Math.max(...head.map(filled));
  const at = head.findIndex((r) => filled(r) >= Math.max(1, widest * 0.6));
  const row = head[at] ?? [];
  const next = sheet.rows[at + 1];
  if (!next) return at;
  const dataLike = (c: string): boolean =>
    readNumberText(c) !== null || readDateText(c) !== null || MAIL.test(c.trim());
  const cells = row.map((c, i) => [c.trim(), (next[i] ?? '').trim()] as const).filter(([a]) => a);
  const alike = cells.filter(([a, b]) => dataLike(a) && dataLike(b)).length;
  return cells.length > 0 && alike > 0 && alike >= cells.length / 2 && at === 0 ? -1 : at;
}

type Inferred = Pick<ColumnDraft, 'type' | 'decimal' | 'dayOrder' | 'ambiguous'>;

/** The type that the values fit: all of them, or all but one in twenty of a longer column. */
export function inferType(values: string[], name: string): Inferred {
  const decimal = decimalSign(values);
  const { dayOrder, ambiguous } = dateOrder(values);
  const tolerance = values.length >= 20 ? values.length * 0.05 : 0;
  const sample: Sample = {
    values,
    name,
    order: dayOrder,
    decimal,
    coded: values.some((v) => /^0\d+$/.test(v)),
    fits(test) {
      let misses = 0;
      for (const v of values) if (!test(v) && ++misses > tolerance) return false;
      return true;
    },
  };
  const found = values.length === 0 ? undefined : GUESSES.find((d) => d.guess!.fits(sample));
  return {
    type: (found?.type ?? 'text') as ColumnType,
    decimal,
    dayOrder,
    ambiguous: ambiguous && Boolean(found?.guess?.asksDayOrder),
  };
}

/** The types that columns are taken for, the surest first. */
const GUESSES = FIELDS.filter((d: FieldDefinition) => d.guess).sort(
  (a: FieldDefinition, b: FieldDefinition) => a.guess!.order - b.guess!.order,
) as FieldDefinition[];

/** A comma is the decimal sign when some value can only be read so and none only the other way. */
function decimalSign(values: string[]): '.' | ',' {
  let comma = 0;
  let point = 0;
  for (const v of values) {
    const t = v.replace(/[\s€$£¥%']/g, '');
    if (/^[+-]?(\d+|\d{1,3}(\.\d{3})+),\d+$/.test(t) && !/^[+-]?\d{1,3},\d{3}$/.test(t)) comma++;
    if (/^[+-]?(\d+|\d{1,3}(,\d{3})+)\.\d+$/.test(t) && !/^[+-]?\d{1,3}\.\d{3}$/.test(t)) point++;
  }
  return comma > point ? ',' : '.';
}

function dateOrder(values: string[]): { dayOrder: DayOrder; ambiguous: boolean } {
  let day = 0;
  let month = 0;
  let numeric = 0;
  for (const v of values) {
    const m = /^(\d{1,2})[-/.](\d{1,2})[-/.](?:\d{4}|\d{2})\b/.exec(v);
    if (!m) continue;
    numeric++;
    // A point between the numbers is written day first everywhere it is used.
    if (Number(m[1]) > 12 || v[m[1]!.length] === '.') day++;
    else if (Number(m[2]) > 12) month++;
  }
  return { dayOrder: month > day ? 'month first' : 'day first', ambiguous: numeric > 0 && day === 0 && month === 0 };
}

export interface TypedRows {
  /** Cells by column, in the order of the draft's columns without the skipped ones. */
  rows: Cell[][];
  /** Rows left out, with the reason. */
  rejected: Unread[];
  /** Cells left empty because they do not fit their column's type. */
  misfits: Unread[];
}

/** Reads the rows of a draft by its columns' types. */
export function readRows(draft: TableDraft): TypedRows {
  const columns = draft.columns.filter((c) => !c.skip);
  const width = draft.headerRow < 0 ? Infinity : draft.sheet.rows[draft.headerRow]!.length;
  const out: TypedRows = { rows: [], rejected: [], misfits: [] };
  const fields = columns.map((c) => ({ id: 'f_column', name: c.name, type: c.type }));
  for (let r = draft.headerRow + 1; r < draft.sheet.rows.length; r++) {
    const row = draft.sheet.rows[r]!;
    const line = draft.sheet.lines[r]!;
    if (row.length > width && row.slice(width).some((c) => c.trim())) {
      out.rejected.push({
        line,
        reason: `The row has ${row.length} cells, the header has ${width}. A delimiter inside a text needs quotation marks.`,
      });
      continue;
    }
    const cells: Cell[] = new Array(columns.length);
    let any = false;
    for (let i = 0; i < columns.length; i++) {
      const c = columns[i]!;
      const text = row[c.column] ?? '';
      if (text === '') {
        cells[i] = null;
        continue;
      }
      const cell = typedCell(fields[i]!, fieldKind(c.type).lines ? text : text.trim(), c.dayOrder, c.decimal);
      if (cell === undefined) {
        cells[i] = null;
        out.misfits.push({
          line,
          reason: `${c.name}: “${text.slice(0, 40)}” is not a ${fieldKind(c.type).column}; the cell is left empty.`,
        });
      } else cells[i] = cell;
      any ||= cell !== null && cell !== undefined;
    }
    if (any) out.rows.push(cells);
    else out.rejected.push({ line, reason: 'Nothing in this row could be read.' });
  }
  return out;
}

/** The types that a column of a file can become. */
export const COLUMN_TYPES = FIELDS.filter((d: FieldDefinition) => d.column).map((d) => d.type) as ColumnType[];
