import Papa from 'papaparse';
import { UnreadableError } from '../document/unreadable.ts';
import { fix } from '../formula/number.ts';
import { decodeWestern } from './western.ts';

/** A sheet as it came: every row as text, with the line (CSV) or row (XLSX) it stood in. */
export interface Sheet {
  name: string;
  rows: string[][];
  lines: number[];
  notes: string[];
}

export const MAX_FILE_BYTES = 50 * 1024 * 1024;
export const MAX_ROWS = 500_000;

const starts = (b: Uint8Array, ...magic: number[]): boolean => magic.every((m, i) => b[i] === m);

/** Reads a CSV or XLSX file; its content decides which, not its name. Throws {@link UnreadableError}. */
export async function readSheets(fileName: string, bytes: Uint8Array): Promise<Sheet[]> {
  const what = `“${fileName}”`;
  if (bytes.length === 0)
    throw new UnreadableError(`${what} is empty. Choose a file with a header row and at least one row below it.`);
  if (bytes.length > MAX_FILE_BYTES) {
    throw new UnreadableError(
      `${what} has ${Math.round(bytes.length / 1_048_576)} MB; the largest file read here has ${MAX_FILE_BYTES / 1_048_576} MB. Leave out columns that the app does not need, or divide the file.`,
    );
  }
  if (starts(bytes, 0x50, 0x4b)) return readWorkbook(what, bytes);
  if (starts(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new UnreadableError(`${what} is in the old .xls format. Save it as .xlsx or CSV and bring it again.`);
  const kind = foreign(bytes);
  if (kind) throw new UnreadableError(`${what} is ${kind}, not a table. Bring a CSV or XLSX file.`);
  const base = fileName.replace(/\.[^.]*$/, '') || fileName;
  const notes = /\.(xlsx|xlsm|ods)$/i.test(fileName)
    ? [`${what} is called a workbook but holds plain text; it was read as CSV.`]
    : [];
  const { text, note } = decode(bytes);
  if (note) notes.push(note);
  return [readCsv(tidyName(base), text, notes, what)];
}

function foreign(b: Uint8Array): string | null {
  if (starts(b, 0x89, 0x50, 0x4e, 0x47) || starts(b, 0xff, 0xd8, 0xff) || starts(b, 0x47, 0x49, 0x46, 0x38))
    return 'a picture';
  if (starts(b, 0x25, 0x50, 0x44, 0x46)) return 'a PDF';
  if (starts(b, 0xff, 0xfe) || starts(b, 0xfe, 0xff)) return null;
  return b.subarray(0, 4096).includes(0) ? 'no text' : null;
}

/** Text of UTF-8, UTF-16 or Windows-1252, told apart by their bytes; single stray lines are decoded by themselves. */
export function decode(bytes: Uint8Array): { text: string; note: string | null } {
  if (starts(bytes, 0xff, 0xfe)) return { text: new TextDecoder('utf-16le').decode(bytes), note: null };
  if (starts(bytes, 0xfe, 0xff)) return { text: new TextDecoder('utf-16be').decode(bytes), note: null };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), note: null };
  } catch {
    const strict = new TextDecoder('utf-8', { fatal: true });
    const out: string[] = [];
    let odd = 0;
    for (let at = 0; at <= bytes.length;) {
      const end = bytes.indexOf(10, at);
      const line = bytes.subarray(at, end < 0 ? bytes.length : end);
      try {
        out.push(strict.decode(line));
      } catch {
        out.push(decodeWestern(line));
        odd++;
      }
      if (end < 0) break;
      at = end + 1;
    }
    return {
      text: out.join('\n'),
      note: `${odd === 1 ? 'One line is' : `${odd} lines are`} not in UTF-8 and ${odd === 1 ? 'was' : 'were'} read as Windows-1252; look at letters with accents.`,
    };
  }
}

/** The sign between the cells of a text: comma, semicolon, tab or bar. Empty lines are no evidence. */
export const guessDelimiter = (text: string): string =>
  Papa.parse<string[]>(text.slice(0, 200_000), {
    delimitersToGuess: [',', ';', '\t', '|'],
    skipEmptyLines: 'greedy',
    preview: 50,
  }).meta.delimiter;

function readCsv(name: string, text: string, notes: string[], what: string): Sheet {
  const plain = text.replace(/^\uFEFF/, '');
  const parsed = Papa.parse<string[]>(plain, { delimiter: guessDelimiter(plain), skipEmptyLines: false });
  const rows: string[][] = [];
  const lines: number[] = [];
  let line = 1;
  for (const row of parsed.data) {
    if (row.some((c) => c.trim() !== '')) {
      rows.push(row);
      lines.push(line);
    }
    line++;
    for (const cell of row) if (cell.includes('\n')) line += cell.split('\n').length - 1;
  }
  const open = parsed.errors.find((e) => e.code === 'MissingQuotes');
  if (open)
    notes.push(
      `A quotation mark is opened near row ${(open.row ?? 0) + 1} and never closed; look at the rows after it.`,
    );
  return checked({ name, rows, lines, notes }, what);
}

function checked(sheet: Sheet, what: string): Sheet {
  if (sheet.rows.length === 0)
    throw new UnreadableError(`${what} has no rows. Choose a file with a header row and at least one row below it.`);
  if (sheet.rows.length > MAX_ROWS)
    throw new UnreadableError(
      `${what} has ${sheet.rows.length.toLocaleString('en-GB')} rows; up to ${MAX_ROWS.toLocaleString('en-GB')} are read.`,
    );
  return sheet;
}

/** "store_moves 2026" as "Store moves 2026". */
export function tidyName(base: string): string {
  const words = base.replace(/[_]+/g, ' ').replace(/\s+/g, ' ').trim().slice(0, 80);
  return words.charAt(0).toUpperCase() + words.slice(1) || 'Sheet';
}

async function readWorkbook(what: string, bytes: Uint8Array): Promise<Sheet[]> {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes.slice().buffer as ArrayBuffer);
  } catch {
    throw new UnreadableError(
      `${what} is not a workbook that can be read: it may be damaged or hold something else. Open it in a spreadsheet program and save it again as .xlsx.`,
    );
  }
  const sheets: Sheet[] = [];
  for (const ws of book.worksheets) {
    if (ws.state !== 'visible') continue;
    const rows: string[][] = [];
    const lines: number[] = [];
    const merges = (ws.model as { merges?: string[] }).merges ?? [];
    const covered = coveredCells(merges);
    ws.eachRow({ includeEmpty: false }, (row, number) => {
      const cells: string[] = [];
      row.eachCell({ includeEmpty: true }, (cell, column) => {
        cells[column - 1] = covered.has(`${number}:${column}`) ? '' : cellText(cell.value, cell.numFmt);
      });
      for (let i = 0; i < cells.length; i++) cells[i] ??= '';
      if (cells.some((c) => c.trim() !== '')) {
        rows.push(cells);
        lines.push(number);
      }
    });
    if (rows.length)
      sheets.push(
        checked(
          joinedHeader({ name: tidyName(ws.name), rows, lines, notes: [] }, merges),
          `${what}, sheet “${ws.name}”,`,
        ),
      );
  }
  if (sheets.length === 0) throw new UnreadableError(`${what} has no sheet with anything in it.`);
  return sheets;
}

interface Area {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

function areaOf(ref: string): Area | null {
  const m = /^([A-Z]+)(\d+):([A-Z]+)(\d+)$/.exec(ref);
  if (!m) return null;
  const column = (name: string): number => [...name].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0);
  return { left: column(m[1]!), top: Number(m[2]), right: column(m[3]!), bottom: Number(m[4]) };
}

/** The cells that a merged one lies over, as "row:column" counted from 1. They are empty; the first holds the text. */
function coveredCells(merges: readonly string[]): Set<string> {
  const covered = new Set<string>();
  for (const area of merges.map(areaOf)) {
    if (!area || (area.bottom - area.top) * (area.right - area.left) > 100_000) continue;
    for (let r = area.top; r <= area.bottom; r++)
      for (let c = area.left; c <= area.right; c++) if (r !== area.top || c !== area.left) covered.add(`${r}:${c}`);
  }
  return covered;
}

/**
 * A header of several rows with merged cells becomes one row: “Weights” over “Spring” and “Autumn” gives
 * “Weights Spring” and “Weights Autumn”. A cell merged over the whole width is a title and names no column.
 */
function joinedHeader(sheet: Sheet, merges: readonly string[]): Sheet {
  const width = Math.max(...sheet.rows.slice(0, 20).map((r) => r.length));
  const [first] = sheet.lines;
  const areas = merges
    .map(areaOf)
    .filter((a): a is Area => a !== null && a.top <= (first ?? 1) + 8 && a.right - a.left + 1 < Math.max(3, width));
  const across = areas.filter((a) => a.right > a.left);
  if (across.length === 0) return sheet;
  const top = Math.min(...across.map((a) => a.top));
  // The row below the last that is merged across names the single columns; cells merged downwards may reach further.
  const bottom = Math.max(
    ...across.map((a) => a.bottom + 1),
    ...areas.filter((a) => a.top >= top && a.left === a.right).map((a) => a.bottom),
  );
  const from = sheet.lines.findIndex((l) => l >= top);
  const to = sheet.lines.findLastIndex((l) => l <= bottom);
  if (from < 0 || to <= from || to - from > 4) return sheet;
  const names = Array.from({ length: width }, (_, i) => {
    const parts: string[] = [];
    for (let r = from; r <= to; r++) {
      const over = across.find(
        (a) => a.top <= sheet.lines[r]! && a.bottom >= sheet.lines[r]! && a.left <= i + 1 && a.right >= i + 1,
      );
      const text = (
        over ? (sheet.rows[sheet.lines.indexOf(over.top)]?.[over.left - 1] ?? '') : (sheet.rows[r]![i] ?? '')
      ).trim();
      if (text && !parts.includes(text)) parts.push(text);
    }
    return parts.join(' ');
  });
  return {
    ...sheet,
    rows: [...sheet.rows.slice(0, from), names, ...sheet.rows.slice(to + 1)],
    lines: [...sheet.lines.slice(0, from), sheet.lines[to]!, ...sheet.lines.slice(to + 1)],
    notes: [...sheet.notes, `The header has merged cells; its ${to - from + 1} rows are read as one.`],
  };
}

/** A cell's text. Dates become ISO 8601, which needs no guessing later; a share shown in percent is written so. */
function cellText(v: unknown, format = ''): string {
  if (typeof v === 'number' && format.includes('%')) return `${fix(v * 100)}%`;
  // Hours that go beyond a day are a duration, which a workbook counts in days.
  if (/\[h+\]/i.test(format) && (typeof v === 'number' || v instanceof Date))
    return hoursText(typeof v === 'number' ? v * 86_400_000 : v.getTime() - Date.UTC(1899, 11, 30));
  if (v === null || v === undefined) return '';
  if (v instanceof Date) {
    if (Number.isNaN(v.getTime())) return '';
    const iso = v.toISOString();
    return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso.slice(0, 19);
  }
  if (typeof v === 'object') {
    const o = v as { result?: unknown; richText?: { text: string }[]; text?: unknown; error?: string };
    if (o.richText) return o.richText.map((r) => r.text).join('');
    if ('result' in o) return cellText(o.result, format);
    if ('text' in o) return cellText(o.text);
    return '';
  }
  return typeof v === 'boolean' ? (v ? 'yes' : 'no') : String(v);
}

function hoursText(ms: number): string {
  const seconds = Math.round(Math.abs(ms) / 1000);
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${ms < 0 ? '-' : ''}${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
}
