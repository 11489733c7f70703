import { UnreadableError } from '../../../core/document/unreadable.ts';
import { checkedSheet, tidyName, type Sheet } from '../../../core/formats/sheet.ts';
import type { Stated } from '../../../core/formats/table-schema.ts';
import { openBook, type Book } from './book.ts';
import { guardWorkbook } from './guard.ts';
import { joinedHeader } from './header.ts';
import { regionsOf, wholeOf, type Region } from './regions.ts';
import { statedIn } from './stated.ts';
import { columnLetters, readWorksheet, type Area, type Worksheet } from './worksheet.ts';

/** A merged cell that lies over more than this is there for its looks. */
const MOST_COVERED = 100_000;

/** A sheet of a workbook with the part it lies in and what else its part says. */
export interface WorkbookSheet extends Sheet {
  path: string;
}

/**
 * The tables in the visible sheets of a workbook (ECMA-376); with `whole`, each sheet as one. `what` names the file in
 * words.
 */
export async function readWorkbook(what: string, bytes: Uint8Array, { whole = false } = {}): Promise<WorkbookSheet[]> {
  guardWorkbook(what, bytes);
  const book = opened(what, bytes);
  const hidden = book.sheets.filter((s) => !s.visible);
  const stated = whole ? new Map<string, Stated>() : within(what, () => statedIn(book.parts));
  const sheets: WorkbookSheet[] = [];
  for (const { name, path } of book.sheets.filter((s) => s.visible)) {
    const worksheet = within(what, () => readWorksheet(book, path, whole));
    if (worksheet.rows.size === 0) continue;
    const regions = whole ? [wholeOf(worksheet)] : regionsOf(worksheet);
    for (const region of regions) {
      const sheet = sheetOf(worksheet, region, titleOf(name, region, regions), whole, stated);
      if (sheet.rows.length) sheets.push({ ...checkedSheet(sheet, `${what}, sheet “${name}”,`), path });
    }
    if (!whole) noteOutside(worksheet, regions, sheets.at(-1));
  }
  if (sheets.length === 0) throw new UnreadableError(`${what} has no sheet with anything in it.`);
  if (hidden.length)
    sheets[0]!.notes.push(
      `${hidden.length === 1 ? 'A sheet is' : `${hidden.length} sheets are`} hidden in the file and left out: ${hidden
        .slice(0, 5)
        .map((s) => `“${s.name}”`)
        .join(', ')}${hidden.length > 5 ? ' and others' : ''}. Show them in a spreadsheet program to bring them.`,
    );
  return sheets;
}

const damaged = (what: string): UnreadableError =>
  new UnreadableError(
    `${what} is not a workbook that can be read: it may be damaged or hold something else. Open it in a spreadsheet program and save it again as .xlsx.`,
  );

function within<T>(what: string, work: () => T): T {
  try {
    return work();
  } catch (e) {
    if (e instanceof UnreadableError) throw e;
    throw damaged(what);
  }
}

const opened = (what: string, bytes: Uint8Array): Book => within(what, () => openBook(bytes));

/** Several tables on one sheet are told apart by their own names, or by number. */
function titleOf(sheet: string, region: Region, all: readonly Region[]): string {
  const tidy = tidyName(sheet);
  if (all.length === 1) return tidy;
  return region.name ? tidyName(region.name) : all.indexOf(region) === 0 ? tidy : `${tidy} ${all.indexOf(region) + 1}`;
}

/** The rows of a table, with all that is said of them by their places. Columns are counted from the sheet's first. */
function sheetOf(
  worksheet: Worksheet,
  region: Region,
  name: string,
  bare: boolean,
  stated: ReadonlyMap<string, Stated>,
): Sheet {
  const last = region.bottom - region.totals;
  const inside = (row: number, column: number): boolean =>
    row >= region.top && row <= last && column >= region.left && column <= region.right;
  const merges = worksheet.merges.filter((m) => inside(m.top, m.left));
  const covered = coveredBy(merges);
  const rows: string[][] = [];
  const lines: number[] = [];
  for (const line of [...worksheet.rows.keys()].sort((a, b) => a - b)) {
    if (line < region.top || line > last) continue;
    const cells = worksheet.rows.get(line)!;
    const row: string[] = [];
    for (let c = 1; c <= Math.min(region.right, cells.length); c++)
      row.push(c < region.left || covered.has(`${line}:${c}`) ? '' : (cells[c - 1] ?? ''));
    if (!row.some((c) => c.trim())) continue;
    rows.push(row);
    lines.push(line);
  }
  const sheet: Sheet = { name, rows, lines, notes: [] };
  if (region.totals)
    sheet.notes.push(
      `The ${region.totals === 1 ? 'row' : 'rows'} of totals at its end ${region.totals === 1 ? 'is' : 'are'} left out.`,
    );
  const joined = joinedHeader(sheet, merges);
  if (bare) return joined;
  return {
    ...joined,
    ...asideOf(worksheet, joined, merges, inside),
    ...(stated.size && { stated: statedFor(joined, stated) }),
  };
}

/** What is told of the columns with these headers, where the first row has them. */
const statedFor = (sheet: Sheet, stated: ReadonlyMap<string, Stated>): (Stated | null)[] =>
  (sheet.rows[0] ?? []).map((h) => stated.get(h) ?? null);

/** What a table's cells have beside their texts: hidden ones, links, what lies under merged cells, what is odd. */
function asideOf(
  worksheet: Worksheet,
  sheet: Sheet,
  merges: readonly Area[],
  inside: (row: number, column: number) => boolean,
): Partial<Sheet> {
  const place = new Map(sheet.lines.map((l, i) => [l, i]));
  const at = (row: number, column: number): string => `${columnLetters(column)}${row}`;
  const odd = [
    ...worksheet.odd
      .filter((o) => inside(o.row, o.column))
      .map((o) => ({ line: o.row, reason: `${at(o.row, o.column)} ${o.reason}.` })),
    ...worksheet.comments
      .filter((c) => inside(c.row, c.column))
      .map((c) => ({
        line: c.row,
        reason: `${at(c.row, c.column)} has a comment, which is not taken over: “${c.text.slice(0, 120)}”`,
      })),
  ];
  const under = merges.flatMap((m) => {
    const text = sheet.rows[place.get(m.top) ?? -1]?.[m.left - 1]?.trim();
    if (!text || m.bottom === m.top) return [];
    const cells: { row: number; column: number; text: string }[] = [];
    for (let r = m.top + 1; r <= Math.min(m.bottom, m.top + MOST_COVERED); r++) {
      const row = place.get(r);
      if (row !== undefined) cells.push({ row, column: m.left - 1, text });
    }
    return cells;
  });
  const rows = sheet.lines.flatMap((l, i) => (worksheet.hiddenRows.has(l) ? [i] : []));
  const width = sheet.rows.reduce((most, r) => Math.max(most, r.length), 0);
  const exact = [...worksheet.numbers].flatMap(([c, n]) => (n >= sheet.rows.length / 2 ? [c - 1] : []));
  const columns = Array.from({ length: width }, (_, c) => c).filter((c) =>
    worksheet.hiddenColumns.some(([from, to]) => c + 1 >= from && c + 1 <= to),
  );
  return {
    ...(exact.length && { exact }),
    ...(odd.length && { odd: odd.sort((a, b) => a.line - b.line) }),
    ...(under.length && { under }),
    ...((rows.length || columns.length) && { hidden: { rows, columns } }),
    ...linksOf(worksheet, sheet, width),
  };
}

/** Columns whose texts lead somewhere else get a column of addresses behind the last, unless they are the addresses. */
function linksOf(worksheet: Worksheet, sheet: Sheet, width: number): Partial<Sheet> {
  const columns = new Map<number, string[]>();
  const place = new Map(sheet.lines.map((l, i) => [l, i]));
  for (const [key, address] of worksheet.links) {
    const [line, column] = key.split(':').map(Number) as [number, number];
    const row = place.get(line);
    const text = row === undefined ? undefined : sheet.rows[row]![column - 1];
    if (row === undefined || text === undefined || text.trim() === '' || isSame(text, address)) continue;
    const list = columns.get(column - 1) ?? [];
    list[row] = address;
    columns.set(column - 1, list);
  }
  const links = [...columns].map(([of, addresses], i) => ({ of, column: width + i, addresses }));
  if (links.length === 0) return {};
  return {
    links: links.map(({ of, column }) => ({ of, column })),
    rows: sheet.rows.map((r, row) => {
      const longer = [...r];
      while (longer.length < width) longer.push('');
      return [...longer, ...links.map((l) => l.addresses[row] ?? '')];
    }),
  };
}

const isSame = (text: string, address: string): boolean => {
  const bare = (t: string): string =>
    t
      .trim()
      .toLowerCase()
      .replace(/^(mailto:|tel:|https?:\/\/)/, '')
      .replace(/\/$/, '');
  return bare(text) === bare(address);
};

/** The cells that a merged one lies over, as "row:column". They are empty; the first holds the text. */
function coveredBy(merges: readonly Area[]): Set<string> {
  const covered = new Set<string>();
  for (const m of merges) {
    if ((m.bottom - m.top) * (m.right - m.left) > MOST_COVERED) continue;
    for (let r = m.top; r <= m.bottom; r++)
      for (let c = m.left; c <= m.right; c++) if (r !== m.top || c !== m.left) covered.add(`${r}:${c}`);
  }
  return covered;
}

/** Cells outside the tables of a book are told. */
function noteOutside(worksheet: Worksheet, regions: readonly Region[], sheet: Sheet | undefined): void {
  if (!sheet || worksheet.tables.length === 0) return;
  let count = 0;
  let first = '';
  for (const [line, cells] of worksheet.rows)
    cells.forEach((text, i) => {
      if (!text.trim()) return;
      if (regions.some((r) => line >= r.top && line <= r.bottom && i + 1 >= r.left && i + 1 <= r.right)) return;
      first ||= `${columnLetters(i + 1)}${line} “${text.slice(0, 40)}”`;
      count++;
    });
  if (count)
    sheet.notes.push(
      `${count === 1 ? 'A cell stands' : `${count} cells stand`} outside the tables of this sheet and ${count === 1 ? 'is' : 'are'} left out, such as ${first}.`,
    );
}
