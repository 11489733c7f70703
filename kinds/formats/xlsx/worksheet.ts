import { relationsOf, type Book } from './book.ts';
import { numberText, type NumberFormat } from './number-format.ts';
import { readXml, unescaped } from './xml.ts';

/** An area of cells, counted from 1. */
export interface Area {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

/** A worksheet as it lies in its part: cells by row and column, counted from 1, and what stands beside them. */
export interface Worksheet {
  /** Texts of the cells of each row that has any. */
  rows: Map<number, string[]>;
  merges: Area[];
  hiddenRows: Set<number>;
  /** Hidden columns, from and to. */
  hiddenColumns: [number, number][];
  /** Addresses of links, by "row:column". */
  links: Map<string, string>;
  comments: { row: number; column: number; text: string }[];
  /** Ranges that the book itself calls tables. */
  tables: (Area & { name: string; totals: number; header: number })[];
  /** What could not be taken over as it was. */
  odd: { row: number; column: number; reason: string }[];
  /** How many cells of a column are numbers. */
  numbers: Map<number, number>;
}

/** "BC" is column 55, counted from 1. */
export const columnNumber = (letters: string): number =>
  Array.from(letters.toUpperCase()).reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0);

/** 55 is "BC". */
export function columnLetters(column: number): string {
  let name = '';
  for (let n = column; n > 0; n = Math.floor((n - 1) / 26)) name = String.fromCharCode(65 + ((n - 1) % 26)) + name;
  return name;
}

export function areaOf(ref: string): Area | null {
  const m = /^\$?([A-Z]+)\$?(\d+)(?::\$?([A-Z]+)\$?(\d+))?$/i.exec(ref);
  if (!m) return null;
  const [left, top] = [columnNumber(m[1]!), Number(m[2])];
  return { left, top, right: m[3] ? columnNumber(m[3]) : left, bottom: m[4] ? Number(m[4]) : top };
}

interface Cell {
  row: number;
  column: number;
  type: string;
  format: NumberFormat;
  formula: boolean;
  value: string | null;
  text: string | null;
}

/** Reads the part of a worksheet and those that belong to it. `bare` numbers stand without what their format adds. */
export function readWorksheet(book: Book, path: string, bare = false): Worksheet {
  const sheet: Worksheet = {
    rows: new Map(),
    merges: [],
    hiddenRows: new Set(),
    hiddenColumns: [],
    links: new Map(),
    comments: [],
    tables: [],
    odd: [],
    numbers: new Map(),
  };
  const relations = relationsOf(book.parts, path);
  let row = 0;
  let column = 0;
  let cell: Cell | null = null;
  let into: 'value' | 'text' | null = null;
  let spoken = false;
  readXml(book.parts[path]!, {
    open(name, a) {
      if (name === 'c') {
        const ref = a['r'] ? areaOf(a['r']) : null;
        column = ref ? ref.left : column + 1;
        if (ref) row = ref.top;
        cell = {
          row,
          column,
          type: a['t'] ?? 'n',
          format: formatOf(book, a['s'], bare),
          formula: false,
          value: null,
          text: null,
        };
      } else if (cell && name === 'v') [cell.value, into] = ['', 'value'];
      else if (cell && name === 'f') cell.formula = true;
      else if (cell && name === 'rPh') spoken = true;
      else if (cell && name === 't' && !spoken) [cell.text, into] = [cell.text ?? '', 'text'];
      else if (name === 'row') {
        row = a['r'] ? Number(a['r']) : row + 1;
        column = 0;
        if (/^(1|true)$/.test(a['hidden'] ?? '')) sheet.hiddenRows.add(row);
      } else if (name === 'col' && /^(1|true)$/.test(a['hidden'] ?? ''))
        sheet.hiddenColumns.push([Number(a['min']), Number(a['max'])]);
      else if (name === 'mergeCell') {
        const area = areaOf(a['ref'] ?? '');
        if (area) sheet.merges.push(area);
      } else if (name === 'hyperlink') takeLink(sheet, a, relations.get(a['id'] ?? '')?.target);
    },
    close(name) {
      if (name === 'v' || name === 't') into = null;
      else if (name === 'rPh') spoken = false;
      else if (name === 'c' && cell) {
        keep(sheet, book, cell);
        cell = null;
      }
    },
    text(t) {
      if (cell && into) cell[into] += t;
    },
  });
  for (const { type, target } of relations.values()) {
    const part = book.parts[target];
    if (part && type === 'table') readTable(sheet, part);
    if (part && type === 'comments') readComments(sheet, part);
  }
  return sheet;
}

const PLAIN: NumberFormat = { is: 'plain' };

function formatOf(book: Book, style: string | undefined, bare: boolean): NumberFormat {
  const format = book.formats[Number(style ?? 0)] ?? PLAIN;
  return bare && (format.is === 'money' || format.is === 'unit' || format.is === 'padded') ? PLAIN : format;
}

function takeLink(sheet: Worksheet, a: Record<string, string>, target: string | undefined): void {
  const area = areaOf(a['ref'] ?? '');
  if (!area || !target || !/^(https?|mailto|tel):/i.test(target)) return;
  const address = a['location'] ? `${target}#${a['location']}` : target;
  for (let r = area.top; r <= Math.min(area.bottom, area.top + 10_000); r++)
    for (let c = area.left; c <= Math.min(area.right, area.left + 100); c++) sheet.links.set(`${r}:${c}`, address);
}

function keep(sheet: Worksheet, book: Book, cell: Cell): void {
  const text = textOf(sheet, book, cell);
  if (text === '') return;
  if (cell.type === 'n') sheet.numbers.set(cell.column, (sheet.numbers.get(cell.column) ?? 0) + 1);
  let row = sheet.rows.get(cell.row);
  if (!row) {
    row = [];
    sheet.rows.set(cell.row, row);
  }
  row[cell.column - 1] = text;
}

function textOf(sheet: Worksheet, book: Book, cell: Cell): string {
  const odd = (reason: string): string => {
    sheet.odd.push({ row: cell.row, column: cell.column, reason });
    return '';
  };
  const { value } = cell;
  if (cell.type === 'inlineStr') return unescaped(cell.text ?? '');
  if (value === null || (value === '' && cell.type !== 'str'))
    return cell.formula
      ? odd('holds a formula without a kept result; it is left empty. Save the file once in a spreadsheet program')
      : '';
  switch (cell.type) {
    case 's':
      return book.texts[Number(value)] ?? odd('names a text that the file does not have');
    case 'str':
      return unescaped(value);
    case 'b':
      return value === '1' || value === 'true' ? 'yes' : 'no';
    case 'e':
      return odd(`holds the error ${value.slice(0, 20)}; it is left empty`);
    case 'd':
      return value.replace(/T00:00:00(\.0+)?Z?$/, '').replace(/(\.0+)?Z$/, '');
    default: {
      const n = Number(value);
      if (!Number.isFinite(n)) return odd(`holds “${value.slice(0, 20)}”, which is no number; it is left empty`);
      return (
        numberText(n, cell.format, book.epoch) ??
        odd(`is shown as a date, but ${value.slice(0, 20)} is none; it is left empty`)
      );
    }
  }
}

function readTable(sheet: Worksheet, bytes: Uint8Array): void {
  readXml(bytes, {
    open(name, a) {
      const area = name === 'table' ? areaOf(a['ref'] ?? '') : null;
      if (area)
        sheet.tables.push({
          ...area,
          name: a['displayName'] ?? a['name'] ?? '',
          totals: Number(a['totalsRowCount'] ?? 0),
          header: Number(a['headerRowCount'] ?? 1),
        });
    },
  });
}

function readComments(sheet: Worksheet, bytes: Uint8Array): void {
  let at: Area | null = null;
  let text = '';
  let inside = false;
  readXml(bytes, {
    open(name, a) {
      if (name === 'comment') [at, text] = [areaOf(a['ref'] ?? ''), ''];
      else if (name === 't') inside = true;
    },
    close(name) {
      if (name === 't') inside = false;
      else if (name === 'comment' && at) sheet.comments.push({ row: at.top, column: at.left, text: text.trim() });
    },
    text(t) {
      if (inside) text += t;
    },
  });
}
