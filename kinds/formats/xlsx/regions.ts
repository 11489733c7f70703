import type { Area, Worksheet } from './worksheet.ts';

/** A table within a worksheet: the area it lies in, what it is called, and rows at its end that only sum up. */
export interface Region extends Area {
  name: string | null;
  totals: number;
  header: number;
}

/** A block of cells that is smaller stands for no table of its own. */
const LEAST = 2;

const filled = (row: readonly string[] | undefined, from: number, to: number): boolean => {
  for (let c = from; c <= to; c++) if (row?.[c - 1]?.trim()) return true;
  return false;
};

/**
 * The tables of a worksheet as a person sees them: those that the book names, or blocks of cells that empty rows and
 * columns keep apart, where each of them is headed by texts. Otherwise the sheet is one.
 */
export function regionsOf(sheet: Worksheet): Region[] {
  if (sheet.tables.length)
    return [...sheet.tables]
      .sort((a, b) => a.top - b.top || a.left - b.left)
      .map((t) => ({ ...t, name: t.name || null }));
  const lines = [...sheet.rows.keys()].sort((a, b) => a - b);
  const whole = wholeOf(sheet);
  const parts = divided(sheet, lines, whole);
  return parts.length > 1 && parts.every((p) => isTable(sheet, lines, p)) ? parts : [whole];
}

/** The worksheet as one table. */
export function wholeOf(sheet: Worksheet): Region {
  const region: Region = { top: Infinity, left: 1, bottom: 1, right: 1, name: null, totals: 0, header: 1 };
  for (const [line, row] of sheet.rows) {
    region.top = Math.min(region.top, line);
    region.bottom = Math.max(region.bottom, line);
    region.right = Math.max(region.right, row.length);
  }
  return region;
}

/** Blocks beside one another, each again divided into blocks below one another. */
function divided(sheet: Worksheet, lines: readonly number[], whole: Region): Region[] {
  const used = new Array<boolean>(whole.right + 2).fill(false);
  for (const row of sheet.rows.values()) row.forEach((text, i) => (used[i + 1] ||= text.trim() !== ''));
  const blocks: Region[] = [];
  for (let c = 1; c <= whole.right; c++) {
    if (!used[c]) continue;
    let end = c;
    while (used[end + 1]) end++;
    blocks.push(...stacked(sheet, lines, { ...whole, left: c, right: end }));
    c = end;
  }
  return blocks;
}

function stacked(sheet: Worksheet, lines: readonly number[], block: Region): Region[] {
  const inside = lines.filter((l) => filled(sheet.rows.get(l), block.left, block.right));
  const parts: Region[] = [];
  let top = inside[0] ?? block.top;
  inside.forEach((line, i) => {
    const next = inside[i + 1];
    if (next !== undefined && next === line + 1) return;
    parts.push({ ...block, top, bottom: line });
    if (next !== undefined) top = next;
  });
  return joinedWhereAlike(sheet, parts);
}

/** A title above its table, and rows that only a blank line keeps from those above, belong together. */
function joinedWhereAlike(sheet: Worksheet, parts: readonly Region[]): Region[] {
  const out: Region[] = [];
  for (const part of parts) {
    const before = out.at(-1);
    if (before && !(isHeaded(sheet, part) && before.bottom - before.top + 1 >= LEAST + 1)) before.bottom = part.bottom;
    else out.push({ ...part });
  }
  return out;
}

/** Does the first row name columns: several texts, none a number, above a row that is not the same? */
function isHeaded(sheet: Worksheet, part: Region): boolean {
  const cells = (line: number): string[] =>
    (sheet.rows.get(line) ?? []).slice(part.left - 1, part.right).map((c) => c?.trim() ?? '');
  const head = cells(part.top).filter(Boolean);
  const next = cells(part.top + 1).filter(Boolean);
  return (
    head.length >= LEAST &&
    next.length >= LEAST &&
    new Set(head).size === head.length &&
    head.every((c) => !/^[-+]?[\d.,:/ -]+%?$/.test(c)) &&
    next.some((c) => /\d/.test(c))
  );
}

function isTable(sheet: Worksheet, lines: readonly number[], part: Region): boolean {
  const rows = lines.filter(
    (l) => l >= part.top && l <= part.bottom && filled(sheet.rows.get(l), part.left, part.right),
  );
  return part.right - part.left + 1 >= LEAST && rows.length >= LEAST && isHeaded(sheet, part);
}
