import { MOST_COLUMNS } from '../document/limits.ts';
import { aOrAn, freeName } from '../document/names.ts';
import { fieldKind } from '../fields/kinds.ts';
import type { Cell } from '../fields/lists.ts';
import { readNumberText } from '../fields/read-number.ts';
import { inUtc, readDateText } from '../fields/read-text.ts';
import { isCurrency, splitUnit, type Unit } from '../fields/units.ts';
import { evidenceOf, inferType, meansNothing, type Evidence, type Inferred } from './column-type.ts';
import { readHeader } from '../records/column-header.ts';
import type { Stated } from './table-schema.ts';
import type { ColumnType } from './column-types.ts';
import type { Sheet } from './sheet.ts';

export { inferType } from './column-type.ts';
export { columnTypes, type ColumnType } from './column-types.ts';

/** A column of a sheet as it will become a field. */
export interface ColumnDraft extends Omit<Inferred, 'notes'> {
  name: string;
  /** Place in the sheet's rows. */
  column: number;
  samples: string[];
  skip?: boolean;
  /** What the file itself tells of it beyond its type. */
  stated?: Stated;
  /** It holds what does not fit another column of the draft, at this place among its columns. */
  oddOf?: number;
  /** Its header, where that has more than its name. */
  header?: string;
}

/** A sheet as it will become a table. */
export interface TableDraft {
  name: string;
  sheet: Sheet;
  /** Row of the headers, counted from 0; -1 when there is none. */
  headerRow: number;
  columns: ColumnDraft[];
  notes: string[];
  /** Rows at the end that sum up those above, which are left out, and the columns that they sum up. */
  totals: number;
  sums: number[];
  /** Are rows that are hidden in the file brought, and what lies under merged cells filled down? */
  bringHidden: boolean;
  fillDown: boolean;
  /** Are cells that do not fit their column kept, in a column of texts beside it? */
  oddApart: boolean;
}

/** A row or cell that could not be read. */
export interface Unread {
  line: number;
  reason: string;
}

const SAMPLE = 2000;
const MAIL = /^[^\s@<>,;]+@[^\s@<>,;]+\.[^\s@<>,;]+$/;

/**
 * Makes a table draft of a sheet: finds the header row, names and types the columns. `asItIs` leaves its rows and columns
 * as they are, for files that are written to again.
 */
export function draftTable(given: Sheet, headerRow = findHeader(given), { asItIs = false } = {}): TableDraft {
  const sheet = asItIs ? given : withPlace(given, headerRow);
  const body = sheet.rows.slice(headerRow + 1);
  const header = headerRow < 0 ? [] : sheet.rows[headerRow]!;
  const width = headerRow < 0 ? widest(body) : header.length;
  const sums = asItIs ? [] : sumsAtEnd(body);
  const totals = sums.length ? 1 : 0;
  const notes = [...sheet.notes];
  const samples = Array.from({ length: width }, (_, i) => sampleOf(body, i, body.length - totals));
  const evidence = evidenceOf(samples, new Set(sheet.exact));
  const names: string[] = [];
  const taken: string[] = [];
  const columns: ColumnDraft[] = [];
  const hidden: string[] = [];
  for (let i = 0; i < width; i++) {
    const linked = sheet.links?.find((l) => l.column === i);
    const written = (header[i] ?? '').replace(/\s+/g, ' ').trim().slice(0, 100);
    const own = asItIs || sheet.stated?.[i] ? written : spoken(written);
    const given = linked ? `${names[linked.of] ?? 'Column'} address` : own;
    const values = samples[i]!;
    if (!given && values.length === 0) continue;
    const {
      notes: said,
      unitInName,
      stated,
      ...inferred
    } = columnOf(values, given, sheet.stated?.[i] ?? null, evidence, asItIs);
    const called = unitInName ?? given;
    const name = freeName(called || `Column ${i + 1}`, taken);
    if (unitInName !== null)
      notes.push(`${inferred.unit?.text ?? ''} in the header “${given}” is the unit of ${name}.`);
    if (!given && headerRow >= 0) notes.push(`Column ${i + 1} has no header; it is called “${name}”.`);
    else if (called && name !== called)
      notes.push(`“${called}” is the header of two columns; the second is called “${name}”.`);
    if (linked)
      notes.push(
        `What the texts of ${names[linked.of] ?? 'a column'} lead to stands in a column of its own, “${name}”.`,
      );
    names[i] = name;
    taken.push(name);
    notes.push(...said);
    const isHidden = Boolean(sheet.hidden?.columns.includes(i));
    if (isHidden) hidden.push(name);
    const skip = isHidden || Boolean(sheet.aside?.includes(i));
    columns.push({
      name,
      column: i,
      ...inferred,
      samples: values.slice(0, 4),
      ...(stated && { stated }),
      ...(unitInName !== null && { header: given }),
      ...(skip && { skip }),
    });
  }
  if (hidden.length)
    notes.push(
      `${hidden.join(', ')} ${hidden.length === 1 ? 'is' : 'are'} hidden in the file and left out. Choose a type to bring ${hidden.length === 1 ? 'it' : 'them'}: everyone with the link could see it.`,
    );
  if (totals)
    notes.push('The last row sums up those above and is left out; the table shows the sums below its columns.');
  const beyond = columns.slice(MOST_COLUMNS);
  for (const c of beyond) c.skip = true;
  if (beyond.length)
    notes.push(
      `It has ${columns.length} columns; a table takes ${MOST_COLUMNS} of them. Those from “${beyond[0]!.name}” on are left out; take out others to bring them in.`,
    );
  return {
    name: sheet.name,
    sheet,
    headerRow,
    columns,
    notes,
    totals,
    sums,
    bringHidden: false,
    fillDown: false,
    oddApart: !asItIs,
  };
}

/** The type of a column: what the file tells of it, as far as its values agree, or else what they say. */
function columnOf(
  values: readonly string[],
  header: string,
  stated: Stated | null,
  evidence: Evidence,
  asItIs: boolean,
): Inferred & { unitInName: string | null; stated: Stated | null } {
  const headed = asItIs ? null : readHeader(header);
  const inferred = inferType(values, header, evidence);
  const writing = { order: inferred.dayOrder, decimal: inferred.decimal };
  const fits = (type: ColumnType, unit?: string): boolean => {
    const field = { id: 'f_column', name: header, type, ...(unit && { unit }) };
    const misses = values.filter((v) => fieldKind(type).typed(v, writing, field) === undefined).length;
    return misses <= values.length * 0.05;
  };
  const unit = (text: string): Unit => ({ text, money: inferred.unit?.money ?? false });
  if (stated && fits(stated.type, stated.unit)) {
    const named = headed && headed.unit === (stated.type === 'percent' ? '%' : stated.unit) ? headed.name : null;
    return {
      ...inferred,
      ...SETTLED,
      type: stated.type,
      unit: stated.unit ? unit(stated.unit) : null,
      unitInName: named,
      stated,
    };
  }
  // Numbers under “Weight (kg)” are kilograms.
  const type = headed && inferred.type === 'number' && !inferred.unit ? typeOfUnit(headed.unit) : null;
  if (!headed || !type || !fits(type, headed.unit)) return { ...inferred, unitInName: null, stated: null };
  const isUnit = type === 'number' || type === 'money';
  return {
    ...inferred,
    type,
    unit: isUnit ? { text: headed.unit, money: type === 'money' } : null,
    unitInName: headed.name,
    stated: null,
  };
}

/** Nothing is left to ask. */
const SETTLED = { ambiguous: false, ambiguousDecimal: false, ambiguousYears: false, marks: false };

const typeOfUnit = (unit: string): ColumnType =>
  unit === '%' ? 'percent' : unit === '★' ? 'rating' : isCurrency(unit) ? 'money' : 'number';

/** The names of columns as people write them: “flight date” for `flight_date`, `flightDate` and `FLIGHT_DATE`. */
function spoken(name: string): string {
  if (/^[\p{L}\p{N}]+(?:_+[\p{L}\p{N}]+)+$/u.test(name)) {
    const words = name.replace(/_+/g, ' ');
    return words === words.toUpperCase() ? words.toLowerCase() : words;
  }
  return /^\p{Ll}+(?:\p{Lu}\p{Ll}+)+$/u.test(name) ? name.replace(/(\p{Lu})/gu, ' $1').toLowerCase() : name;
}

const widest = (rows: readonly string[][]): number => rows.slice(0, SAMPLE).reduce((n, r) => Math.max(n, r.length), 0);

/** Values of a column that stand for all of them, without empty ones. */
function sampleOf(body: readonly string[][], column: number, rows: number): string[] {
  const step = Math.max(1, Math.floor(rows / SAMPLE));
  const values: string[] = [];
  for (let r = 0; r < rows; r += step) {
    const v = (body[r]![column] ?? '').trim();
    if (v) values.push(v);
  }
  return values;
}

const LATITUDE = /^(?:lat|latitude|breite|breitengrad)$/i;
const LONGITUDE = /^(?:lon|lng|long|longitude|länge|längengrad)$/i;

/** Latitude and longitude in two columns are one place, in a column behind the last. */
function withPlace(sheet: Sheet, headerRow: number): Sheet {
  const header = sheet.rows[headerRow] ?? [];
  const [lat, lon] = [LATITUDE, LONGITUDE].map((name) => header.findIndex((h) => name.test(h.trim())));
  if (headerRow < 0 || lat === undefined || lon === undefined || lat < 0 || lon < 0) return sheet;
  if (header.some((h) => /^place$/i.test(h.trim()))) return sheet;
  const width = sheet.rows.reduce((n, r) => Math.max(n, r.length), 0);
  const rows = sheet.rows.map((row, r) => {
    const longer = [...row];
    while (longer.length < width) longer.push('');
    const pair = [lat, lon].map((c) => (row[c] ?? '').trim().replace(/^(-?\d+),(\d+)$/, '$1.$2'));
    const place = r < headerRow ? '' : r === headerRow ? 'Place' : pair.every(Boolean) ? pair.join(', ') : '';
    return [...longer, place];
  });
  return {
    ...sheet,
    rows,
    notes: [...sheet.notes, `${header[lat]} and ${header[lon]} are one place, too, in a column of its own.`],
  };
}

const TOTAL =
  /^(?:grand\s+)?(?:total|totals|sum|subtotal|summe|gesamt|zwischensumme|gesamtsumme|somme|totale|suma)s?\b[:.]?/i;

/** The columns whose last cell is the sum of those above, where the last row says that it is one. */
function sumsAtEnd(body: readonly string[][]): number[] {
  if (body.length < 3) return [];
  const last = body.at(-1)!;
  if (!TOTAL.test(last.find((c) => c.trim())?.trim() ?? '')) return [];
  const amount = (text: string | undefined): number | null =>
    readNumberText(splitUnit(text ?? '')?.number ?? text ?? '');
  return last.flatMap((text, i) => {
    const said = text.trim() ? amount(text) : null;
    if (said === null) return [];
    let sum = 0;
    for (const r of body.slice(0, -1)) sum += amount(r[i]) ?? 0;
    return Math.abs(sum - said) <= 0.005 + Math.abs(said) * 1e-9 ? [i] : [];
  });
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
  // Years and dates head columns: they are all different, and go on one from the other.
  const years = cells.filter(([a]) => /^(19|20)\d\d$/.test(a) || readDateText(a) !== null).map(([a]) => a);
  if (at === 0 && years.length >= 2 && new Set(years).size === years.length && years.length >= cells.length - 2) {
    const below = cells.filter(([a]) => years.includes(a)).map(([, b]) => b);
    if (!below.some((b) => /^(19|20)\d\d$/.test(b) || readDateText(b) !== null)) return at;
  }
  const alike = cells.filter(([a, b]) => dataLike(a) && dataLike(b)).length;
  return cells.length > 0 && alike > 0 && alike >= cells.length / 2 && at === 0 ? -1 : at;
}

export interface TypedRows {
  /** Cells by column, in the order of the draft's columns without the skipped ones. */
  rows: Cell[][];
  /** Rows left out, with the reason. */
  rejected: Unread[];
  /** Cells left empty because they do not fit their column's type. */
  misfits: Unread[];
  /** Cells left empty because their words mean that there is nothing. */
  nothing: number;
}

/**
 * Reads the rows of a draft by its columns' types. Where cells do not fit and are kept apart, the draft gets a column of
 * texts for them behind its last.
 */
export function readRows(draft: TableDraft): TypedRows {
  const own = draft.columns.filter((c) => c.oddOf === undefined);
  const before = new Map(draft.columns.flatMap((c) => (c.oddOf === undefined ? [] : [[c.oddOf, c] as const])));
  draft.columns = own;
  const first = readColumns(draft);
  if (!draft.oddApart || first.misfits.length === 0) return first;
  const taken = own.map((c) => c.name);
  draft.columns = [
    ...own,
    ...own.flatMap((c, i): ColumnDraft[] => {
      if (!first.misfitsOf.has(i)) return [];
      const kept = before.get(i);
      const name = freeName(kept?.name ?? `${c.name} as written`, taken);
      taken.push(name);
      return [{ ...c, name, type: 'text', unit: null, ...SETTLED, samples: [], oddOf: i, skip: kept?.skip ?? false }];
    }),
  ];
  return readColumns(draft);
}

function readColumns(draft: TableDraft): TypedRows & { misfitsOf: Set<number> } {
  const { sheet } = draft;
  const columns = draft.columns.filter((c) => !c.skip);
  const width = draft.headerRow < 0 ? Infinity : sheet.rows[draft.headerRow]!.length;
  const beside = new Set(sheet.links?.map((l) => l.column));
  const hidden = new Set(draft.bringHidden ? [] : sheet.hidden?.rows);
  const under = new Map<string, string>();
  if (draft.fillDown) for (const u of sheet.under ?? []) under.set(`${u.row}:${u.column}`, u.text);
  const out = {
    rows: [] as Cell[][],
    rejected: [] as Unread[],
    misfits: [] as Unread[],
    nothing: 0,
    misfitsOf: new Set<number>(),
  };
  const readers = columns.map((c) => readerOf(c, out, draft));
  const places = columns.map((c) => draft.columns.indexOf(c));
  const apart = new Map(draft.columns.flatMap((c) => (c.oddOf === undefined ? [] : [[c.oddOf, c.name] as const])));
  for (let r = draft.headerRow + 1; r < sheet.rows.length - draft.totals; r++) {
    if (hidden.has(r)) continue;
    const row = sheet.rows[r]!;
    const line = sheet.lines[r]!;
    if (row.length > width && row.some((c, i) => i >= width && !beside.has(i) && c.trim())) {
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
      const text = row[c.column] || (under.size && under.get(`${r}:${c.column}`)) || '';
      const cell = readers[i]!(text);
      if (cell === undefined) {
        cells[i] = null;
        out.misfitsOf.add(places[i]!);
        const kept = apart.get(places[i]!);
        out.misfits.push({
          line,
          reason: `${c.name}: “${text.slice(0, 40)}” is not ${aOrAn(fieldKind(c.type).column ?? 'value')}; ${kept === undefined ? 'the cell is left empty' : `it is kept in “${kept}”`}.`,
        });
      } else cells[i] = cell;
      any ||= cell !== null && cell !== undefined && text !== '';
    }
    if (any) out.rows.push(cells);
    else out.rejected.push({ line, reason: 'Nothing in this row could be read.' });
  }
  return out;
}

/** How the texts of a column become cells; undefined for one that does not fit. */
function readerOf(c: ColumnDraft, out: { nothing: number }, draft: TableDraft): (text: string) => Cell | undefined {
  if (c.oddOf !== undefined) {
    const fits = readerOf(draft.columns[c.oddOf]!, { nothing: 0 }, draft);
    return (text) => (fits(text) === undefined ? text : null);
  }
  const kind = fieldKind(c.type);
  const field = { id: 'f_column', name: c.name, type: c.type, ...(c.unit && { unit: c.unit.text }), ...c.stated };
  const writing = { order: c.dayOrder, decimal: c.decimal, until: c.until };
  // Where there are only marks, none means no.
  const nothing = c.marks && c.type === 'yesno' ? false : null;
  const keepsWords = c.type === 'text' || Boolean(kind.lines);
  const toUtc = c.utc && c.type === 'datetime';
  return (text) => {
    const trimmed = text.trim();
    if (trimmed === '') return nothing;
    if (!keepsWords && meansNothing(trimmed)) {
      out.nothing++;
      return null;
    }
    return kind.typed(toUtc ? inUtc(trimmed) : kind.lines ? text : trimmed, writing, field);
  };
}
