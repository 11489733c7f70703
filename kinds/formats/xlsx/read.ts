import { UnreadableError } from '../../../core/document/unreadable.ts';
import { fix } from '../../../core/formula/number.ts';
import { guardWorkbook } from './guard.ts';
import { checkedSheet, tidyName, type Sheet } from '../../../core/formats/sheet.ts';

/** The visible sheets of a workbook (ECMA-376) that hold anything. `what` names the file in words. */
export async function readWorkbook(what: string, bytes: Uint8Array): Promise<Sheet[]> {
  guardWorkbook(what, bytes);
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
        checkedSheet(
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
  // A merged cell without words names nothing.
  const named = (a: Area): boolean => Boolean(sheet.rows[sheet.lines.indexOf(a.top)]?.[a.left - 1]?.trim());
  const across = areas.filter((a) => a.right > a.left && named(a));
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
