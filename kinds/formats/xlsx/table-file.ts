import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { UnreadableError } from '../../../core/document/unreadable.ts';
import type { Sheet } from '../../../core/formats/sheet.ts';
import type { FileValue } from '../../../core/fields/file-cell.ts';
import type { FileEdit, TableFile } from '../../../core/formats/table-file.ts';
import { readWorkbook } from './read.ts';

/** A worksheet's part of the package, with what its cells are like. */
interface Part {
  path: string;
  xml: string;
  /** Cells that hold a formula, as "line:column". */
  formulas: Set<string>;
  /** Columns whose dates are kept as numbers. */
  serial: Set<number>;
  /** Columns whose durations are kept as days. */
  durations: Set<number>;
  lastLine: number;
  /** Days that this book's dates begin after 1899-12-30: 1462 where it counts from 1904. */
  epoch: number;
}

const ROW = /<row\b([^>]*?)(?:\/>|>([\s\S]*?)<\/row>)/g;
const CELL = /<c\b([^>]*?)(?:\/>|>([\s\S]*?)<\/c>)/g;
const attribute = (tag: string, name: string): string | undefined =>
  new RegExp(`(?:^|\\s)${name}="([^"]*)"`).exec(tag)?.[1];

/**
 * A workbook (ECMA-376) that is edited cell by cell in its XML: styles, other sheets, charts and whatever else is in
 * the package stay as they are. Shared texts are left alone; new texts are written in their cells.
 */
export class WorkbookFile implements TableFile {
  private readonly parts: Part[];

  private constructor(
    readonly sheets: Sheet[],
    private readonly zip: Record<string, Uint8Array>,
    paths: string[],
  ) {
    const epoch = /date1904="(1|true)"/.test(strFromU8(zip['xl/workbook.xml']!)) ? 1462 : 0;
    this.parts = paths.map((path, i) => describe(path, strFromU8(zip[path]!), sheets[i]!, epoch));
  }

  static async open(name: string, bytes: Uint8Array): Promise<WorkbookFile> {
    const sheets = await readWorkbook(`“${name}”`, bytes, { whole: true });
    const zip = unzipSync(bytes);
    if (!zip['xl/workbook.xml']) throw new UnreadableError(`“${name}” is no workbook that can be written to.`);
    return new WorkbookFile(
      sheets,
      zip,
      sheets.map((s) => s.path),
    );
  }

  isLocked(sheet: number, line: number, column: number): boolean {
    return this.parts[sheet]!.formulas.has(`${line}:${column}`);
  }

  async write(sheet: number, edits: readonly FileEdit[]): Promise<Uint8Array> {
    const part = this.parts[sheet]!;
    const zip = { ...this.zip };
    const changed = new Map<number, Map<number, FileValue | null>>();
    const added: Map<number, FileValue>[] = [];
    for (const e of edits) {
      if (e.do === 'append') added.push(e.cells);
      else if (e.do === 'cell') lineOf(changed, e.line).set(e.column, e.value);
      else changed.set(e.line, new Map()); // an empty map empties the whole known line
    }
    let line = 0;
    let styles = new Map<number, string>();
    let xml = part.xml.replace(ROW, (whole, tag: string, inner: string | undefined) => {
      line = Number(attribute(tag, 'r') ?? line + 1);
      if (inner) styles = stylesOf(inner, styles);
      const cells = changed.get(line);
      return cells ? `<row${tag}>${withCells(inner ?? '', line, cells, part)}</row>` : whole;
    });
    if (added.length) {
      const rows = added.map((cells, i) => {
        const r = part.lastLine + 1 + i;
        const inner = [...cells]
          .sort(([a], [b]) => a - b)
          .map(([c, value]) => cellXml(r, c, styles.get(c), value, part))
          .join('');
        return `<row r="${r}">${inner}</row>`;
      });
      // Rows after the last one that holds something may be there for their looks; they are written over.
      xml = xml.replace(ROW, (whole, tag: string) =>
        Number(attribute(tag, 'r') ?? 0) > part.lastLine && Number(attribute(tag, 'r')) <= part.lastLine + added.length
          ? ''
          : whole,
      );
      xml = insertRows(xml, rows.join(''), part.lastLine);
      this.widen(zip, part, added.length);
    }
    zip[part.path] = strToU8(xml.replace(/<dimension\b[^>]*\/>/, ''));
    recalculated(zip);
    return zipSync(zip, { level: 6 });
  }

  /** Tables of the sheet that end at its last row go on to the new ones. */
  private widen(zip: Record<string, Uint8Array>, part: Part, rows: number): void {
    const relsPath = part.path.replace(/([^/]+)$/, '_rels/$1.rels');
    const rels = zip[relsPath];
    if (!rels) return;
    for (const [tag] of strFromU8(rels).matchAll(/<Relationship\b[^>]*>/g)) {
      const target = attribute(tag, 'Target');
      if (!target || !(attribute(tag, 'Type') ?? '').endsWith('/table')) continue;
      const path = target.startsWith('/') ? target.slice(1) : `xl/${target.replace(/^\.\.\//, '')}`;
      const table = zip[path];
      if (!table) continue;
      const grown = strFromU8(table).replace(
        new RegExp(`ref="([A-Z]+\\d+:[A-Z]+)${part.lastLine}"`, 'g'),
        `ref="$1${part.lastLine + rows}"`,
      );
      zip[path] = strToU8(grown);
    }
  }
}

function lineOf(lines: Map<number, Map<number, FileValue | null>>, line: number): Map<number, FileValue | null> {
  let cells = lines.get(line);
  if (!cells) {
    cells = new Map();
    lines.set(line, cells);
  }
  return cells;
}

function describe(path: string, xml: string, sheet: Sheet, epoch: number): Part {
  const formulas = new Set<string>();
  const serial = new Set<number>();
  const durations = new Set<number>();
  const texts = new Map(sheet.lines.map((l, i) => [l, sheet.rows[i]!]));
  let line = 0;
  for (const [, tag, inner] of xml.matchAll(ROW)) {
    line = Number(attribute(tag!, 'r') ?? line + 1);
    let column = -1;
    for (const [, cell, content] of (inner ?? '').matchAll(CELL)) {
      const ref = attribute(cell!, 'r');
      column = ref ? columnOf(ref) : column + 1;
      if (/<f\b/.test(content ?? '')) formulas.add(`${line}:${column}`);
      const typed = attribute(cell!, 't');
      const isNumber = (!typed || typed === 'n') && /<v>/.test(content ?? '');
      const text = texts.get(line)?.[column] ?? '';
      if (isNumber && /^\d{4}-\d{2}-\d{2}/.test(text)) serial.add(column);
      if (isNumber && /^-?\d+:\d{2}:\d{2}$/.test(text)) durations.add(column);
    }
  }
  return { path, xml, formulas, serial, durations, lastLine: sheet.lines.at(-1) ?? 0, epoch };
}

/** "BC12" is column 54, counted from 0. */
function columnOf(ref: string): number {
  let n = 0;
  for (const c of /^[A-Z]+/.exec(ref)?.[0] ?? 'A') n = n * 26 + c.charCodeAt(0) - 64;
  return n - 1;
}

function columnName(column: number): string {
  let name = '';
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26)) name = String.fromCharCode(65 + ((n - 1) % 26)) + name;
  return name;
}

function stylesOf(inner: string, before: Map<number, string>): Map<number, string> {
  const styles = new Map(before);
  let column = -1;
  for (const [, tag] of inner.matchAll(CELL)) {
    const ref = attribute(tag!, 'r');
    column = ref ? columnOf(ref) : column + 1;
    const style = attribute(tag!, 's');
    if (style) styles.set(column, style);
  }
  return styles;
}

/** The cells of a row with some written anew, in the order of their columns. */
function withCells(inner: string, line: number, cells: Map<number, FileValue | null>, part: Part): string {
  const all = new Map<number, string>();
  const emptied = cells.size === 0;
  let column = -1;
  for (const [whole, tag] of inner.matchAll(CELL)) {
    const ref = attribute(tag!, 'r');
    column = ref ? columnOf(ref) : column + 1;
    const style = attribute(tag!, 's');
    if (emptied) all.set(column, cellXml(line, column, style, null, part));
    else if (cells.has(column)) {
      all.set(column, cellXml(line, column, style, cells.get(column)!, part));
      cells.delete(column);
    } else all.set(column, whole);
  }
  for (const [c, value] of cells) all.set(c, cellXml(line, c, undefined, value, part));
  return [...all]
    .sort(([a], [b]) => a - b)
    .map(([, xml]) => xml)
    .join('');
}

const escaped = (text: string): string =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '');

function cellXml(line: number, column: number, style: string | undefined, value: FileValue | null, part: Part): string {
  const start = `<c r="${columnName(column)}${line}"${style ? ` s="${style}"` : ''}`;
  if (!value || value.text === '') return `${start}/>`;
  if (value.number !== undefined) return `${start}><v>${value.number}</v></c>`;
  if (value.bool !== undefined) return `${start} t="b"><v>${value.bool ? 1 : 0}</v></c>`;
  if (value.days !== undefined && part.durations.has(column)) return `${start}><v>${value.days}</v></c>`;
  if (value.serial !== undefined && part.serial.has(column)) return `${start}><v>${value.serial - part.epoch}</v></c>`;
  return `${start} t="inlineStr"><is><t xml:space="preserve">${escaped(value.text)}</t></is></c>`;
}

function insertRows(xml: string, rows: string, after: number): string {
  let line = 0;
  let at = -1;
  for (const m of xml.matchAll(ROW)) {
    line = Number(attribute(m[1]!, 'r') ?? line + 1);
    if (line <= after) at = m.index + m[0].length;
  }
  if (at >= 0) return xml.slice(0, at) + rows + xml.slice(at);
  return xml.replace(/<sheetData\s*\/>|<sheetData>/, () => `<sheetData>${rows}`);
}

/** Formulas elsewhere in the book are worked out again when it is opened. */
function recalculated(zip: Record<string, Uint8Array>): void {
  const hasFormulas = Object.entries(zip).some(
    ([path, bytes]) => path.startsWith('xl/worksheets/') && strFromU8(bytes).includes('<f'),
  );
  if (!hasFormulas) return;
  const book = strFromU8(zip['xl/workbook.xml']!);
  const next = /<calcPr\b/.test(book)
    ? book.replace(
        /<calcPr\b([^>]*?)(\/?)>/,
        (_, rest: string, slash: string) =>
          `<calcPr${rest.replace(/\s*fullCalcOnLoad="[^"]*"/, '')} fullCalcOnLoad="1"${slash}>`,
      )
    : book.replace(
        /(<\/definedNames>)|(<\/sheets>(?![\s\S]*<\/definedNames>))/,
        (end) => `${end}<calcPr fullCalcOnLoad="1"/>`,
      );
  zip['xl/workbook.xml'] = strToU8(next);
}
