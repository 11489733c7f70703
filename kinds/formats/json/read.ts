import { UnreadableError } from '../../../core/document/unreadable.ts';
import { numberText as exactNumber } from '../../../core/formula/number.ts';
import { CellCount, checkedSheet, tidyName, type Sheet } from '../../../core/formats/sheet.ts';

/** A number as it is written, so that none of its digits is lost. */
class Written {
  constructor(readonly digits: string) {}
}
type Json = null | boolean | string | Written | Json[] | { [name: string]: Json };
type Row = Record<string, Json>;

/** Values inside values are followed so deep. */
const DEEPEST = 60;

/**
 * The tables in a JSON text (RFC 8259): an array of objects, an object of arrays, a text with a value in every line, or
 * GeoJSON (RFC 7946). Objects in objects become columns, lists of objects tables of their own. `what` names the file.
 */
export function readJson(name: string, text: string, what: string): Sheet[] {
  const value = parsed(text.replace(/^\uFEFF/, ''), what);
  const tables = new Tables(what);
  if (Array.isArray(value)) tables.add(name, value);
  else if (isRow(value) && value['type'] === 'FeatureCollection' && Array.isArray(value['features']))
    tables.add(name, value['features'].map(feature));
  else if (isRow(value)) {
    const { inner, beside } = unwrapped(value);
    const lists = listsIn(inner);
    for (const [key, list] of lists) tables.add(lists.length === 1 ? name : key, list);
    if (lists.length === 0) tables.add(name, columnsOf(inner) ?? [inner]);
    else tables.noteRest([...beside, ...Object.keys(inner).filter((k) => !lists.some(([key]) => key === k))]);
  }
  const sheets = tables.sheets().filter((s) => s.rows.length > 1);
  if (sheets.length === 0)
    throw new UnreadableError(`${what} has no list of records in it. Bring an array of objects.`);
  return sheets.map((s) => checkedSheet(s, what));
}

const listsIn = (value: Row): [name: string, list: Json[]][] =>
  Object.entries(value).filter((e): e is [string, Json[]] => Array.isArray(e[1]) && e[1].some(isRow));

/**
 * Services wrap their lists: `{ "status": "ok", "data": { "items": […] } }`. Where an object has no list itself and one
 * object in it alone leads to lists, that is what is read; what stands beside the way there is named.
 */
function unwrapped(value: Row): { inner: Row; beside: string[] } {
  let inner = value;
  const beside: string[] = [];
  for (let deep = 0; deep < DEEPEST && listsIn(inner).length === 0; deep++) {
    const leads = Object.entries(inner).filter((e): e is [string, Row] => isRow(e[1]) && leadsToList(e[1]));
    if (leads.length !== 1) return { inner: value, beside: [] };
    beside.push(...Object.keys(inner).filter((key) => key !== leads[0]![0]));
    inner = leads[0]![1];
  }
  return listsIn(inner).length ? { inner, beside } : { inner: value, beside: [] };
}
const leadsToList = (value: Row, deep = 0): boolean =>
  listsIn(value).length > 0 ||
  (deep < DEEPEST && Object.values(value).some((v) => isRow(v) && leadsToList(v, deep + 1)));

const isRow = (v: Json | undefined): v is Row =>
  typeof v === 'object' && v !== null && !Array.isArray(v) && !(v instanceof Written);

/** Where the text that begins at a quote ends, behind its last quote. A long one takes no more room than a short one. */
function endOfText(text: string, start: number): number {
  for (let end = text.indexOf('"', start + 1); end >= 0; end = text.indexOf('"', end + 1)) {
    let escapes = 0;
    while (text[end - 1 - escapes] === '\\') escapes++;
    if (escapes % 2 === 0) return end + 1;
  }
  return text.length;
}

/** Writes every number of a JSON text as a text that begins with a mark. */
function withMarkedNumbers(text: string, mark: string): string {
  const token = /"|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?/g;
  const out: string[] = [];
  let done = 0;
  for (let m = token.exec(text); m; m = token.exec(text)) {
    if (m[0] === '"') {
      token.lastIndex = endOfText(text, m.index);
      continue;
    }
    out.push(text.slice(done, m.index), `"${mark}${m[0]}"`);
    done = token.lastIndex;
  }
  out.push(text.slice(done));
  return out.join('');
}

function parsed(text: string, what: string): Json {
  // Numbers are taken out as texts: reading them as numbers would round long ones.
  const mark = ['\\u0001', '\\u0002', '\\u0003'].find((m) => !text.includes(m)) ?? '\\u0004';
  const sign = String.fromCharCode(Number.parseInt(mark.slice(2), 16));
  const kept = withMarkedNumbers(text, mark);
  const revive = (_: string, v: unknown): unknown =>
    typeof v === 'string' && v.startsWith(sign) ? new Written(v.slice(1)) : v;
  try {
    return JSON.parse(kept, revive) as Json;
  } catch (e) {
    const lines = kept.split('\n').filter((l) => l.trim());
    try {
      if (lines.length > 1 && lines[0]!.trim().startsWith('{')) return lines.map((l) => JSON.parse(l, revive) as Json);
    } catch {
      // Said of the whole below.
    }
    const at = /line (\d+)/.exec((e as Error).message)?.[1];
    throw new UnreadableError(
      `${what} is cut off or no JSON${at ? `; look at line ${at}` : ''}. Export it again, or copy it once more.`,
    );
  }
}

/** An object of lists of the same length is a table by its columns. */
function columnsOf(value: Row): Row[] | null {
  const columns = Object.entries(value);
  const length = Array.isArray(columns[0]?.[1]) ? columns[0][1].length : 0;
  if (length === 0 || !columns.every(([, v]) => Array.isArray(v) && v.length === length)) return null;
  return Array.from({ length }, (_, i) => Object.fromEntries(columns.map(([k, v]) => [k, (v as Json[])[i]!])));
}

/** The properties of a GeoJSON feature with its point as a place; other shapes stay as they are written. */
function feature(f: Json): Json {
  if (!isRow(f)) return f;
  const properties = isRow(f['properties']) ? f['properties'] : {};
  const id: Row = f['id'] === undefined || 'id' in properties ? {} : { id: f['id'] };
  const shape = isRow(f['geometry']) ? f['geometry'] : null;
  const [lon, lat] = shape?.['type'] === 'Point' && Array.isArray(shape['coordinates']) ? shape['coordinates'] : [];
  if (lon instanceof Written && lat instanceof Written)
    return { ...id, ...properties, Place: `${exactText(lat)}, ${exactText(lon)}` };
  return { ...id, ...properties, ...(shape && { Shape: plainJson(shape) }) };
}

/** A number without an exponent where that loses nothing. */
function exactText({ digits }: Written): string {
  if (!/e/i.test(digits)) return digits;
  const n = Number(digits);
  return Number.isFinite(n) ? exactNumber(n) : digits;
}

/** A value as JSON again, its numbers as they were written. */
function plainJson(v: Json): string {
  if (v instanceof Written) return v.digits;
  if (Array.isArray(v)) return `[${v.map(plainJson).join(',')}]`;
  if (isRow(v))
    return `{${Object.entries(v)
      .map(([k, x]) => `${JSON.stringify(k)}:${plainJson(x)}`)
      .join(',')}}`;
  return JSON.stringify(v);
}

/** A table while it is read. */
interface Made {
  columns: Map<string, number>;
  rows: string[][];
  notes: string[];
  /** How many values of a column are numbers. */
  numbers: Map<number, number>;
  /** Columns of what became a table of its own, as text, by the name of that table. */
  aside: Map<number, string>;
}

class Tables {
  private readonly made = new Map<string, Made>();
  private readonly count: CellCount;

  constructor(private readonly what: string) {
    this.count = new CellCount(what);
  }

  add(name: string, list: readonly Json[]): void {
    const table = this.table(name);
    const key = keyOf(list);
    if (!key && list.some((v) => isRow(v) && Object.values(v).some(isList)))
      table.notes.push(
        'Its records have nothing that tells them apart; they are numbered, so that what was inside them still belongs to them.',
      );
    list.forEach((value, i) => {
      const row: string[] = [];
      const own = isRow(value) ? value : { Value: value };
      const id = key ? own[key] : new Written(String(i + 1));
      this.fill(name, table, row, '', own, key ?? 'Number', id!, 0);
      if (!key && [...table.columns.keys()].includes('Number')) row[table.columns.get('Number')!] = String(i + 1);
      for (let c = 0; c < row.length; c++) row[c] ??= '';
      this.count.add(row.length);
      table.rows.push(row);
    });
  }

  private table(name: string): Made {
    const known = this.made.get(name) ?? {
      columns: new Map(),
      rows: [],
      notes: [],
      numbers: new Map(),
      aside: new Map(),
    };
    this.made.set(name, known);
    return known;
  }

  private fill(
    name: string,
    table: Made,
    row: string[],
    path: string,
    value: Row,
    key: string,
    id: Json,
    depth: number,
  ): void {
    for (const [field, v] of Object.entries(value)) {
      const column = path ? `${path} ${field}` : field;
      // An empty list says nothing, least of all that there is a column of texts.
      if (Array.isArray(v) && v.length === 0) continue;
      if (isRow(v) && depth < DEEPEST) this.fill(name, table, row, column, v, key, id, depth + 1);
      else if (isList(v) && depth < DEEPEST) {
        // A table of its own, each record with that of the one it was in.
        const owner = `${tidyName(name)} ${key}`;
        if (!(key in value) && key === 'Number') this.place(table, 'Number');
        this.add(
          `${name} ${column}`,
          v.map((x) => ({ [owner]: id, ...(isRow(x) ? x : { Value: x }) })),
        );
        // Who would rather have them as text can choose so.
        const at = this.place(table, column);
        row[at] = plainJson(v);
        table.aside.set(at, tidyName(`${name} ${column}`));
      } else {
        const at = this.place(table, column);
        row[at] = this.text(v);
        if (v instanceof Written) table.numbers.set(at, (table.numbers.get(at) ?? 0) + 1);
      }
    }
  }

  private place(table: Made, column: string): number {
    const known = table.columns.get(column);
    if (known !== undefined) return known;
    if (table.columns.size >= 2000) this.count.tooWide(table.columns.size + 1);
    table.columns.set(column, table.columns.size);
    return table.columns.size - 1;
  }

  private text(v: Json): string {
    if (v === null) return '';
    if (v instanceof Written) return exactText(v);
    if (typeof v === 'boolean') return v ? 'yes' : 'no';
    if (typeof v === 'string') return v;
    return Array.isArray(v) && v.every((x) => typeof x === 'string' && !/[,\n]/.test(x)) ? v.join(', ') : plainJson(v);
  }

  /** What stands beside the lists of a file is stated. */
  noteRest(names: readonly string[]): void {
    const [first] = this.made.values();
    if (first && names.length)
      first.notes.push(
        `Beside its lists the file says ${names.slice(0, 8).join(', ')}${names.length > 8 ? ' and more' : ''}, which is left out.`,
      );
  }

  sheets(): Sheet[] {
    return [...this.made].map(([name, { columns, rows, notes, numbers, aside }]) => {
      const width = columns.size;
      const header = [...columns.keys()];
      const all = [
        header,
        ...rows.map((r) => [...r, ...new Array<string>(width - r.length).fill('')].map((c) => c ?? '')),
      ];
      const exact = [...numbers].flatMap(([c, n]) => (n >= rows.length / 2 ? [c] : []));
      for (const [c, other] of aside)
        notes.push(
          `What is inside “${header[c]}” is a table of its own, “${other}”. To have it as text instead, choose a type for the column and leave that table out.`,
        );
      return {
        name: tidyName(name),
        rows: all,
        lines: all.map((_, i) => i),
        notes,
        ...(exact.length && { exact }),
        ...(aside.size && { aside: [...aside.keys()] }),
      };
    });
  }
}

const isList = (v: Json | undefined): v is Row[] => Array.isArray(v) && v.some(isRow);

/** What tells records apart: the first of their own values that all of them have, and no two the same. */
function keyOf(list: readonly Json[]): string | null {
  const [first] = list.filter(isRow);
  for (const name of Object.keys(first ?? {})) {
    const seen = new Set<string>();
    const tells = list.every((v) => {
      const own = isRow(v) ? v[name] : undefined;
      if (own === undefined || own === null || typeof own === 'boolean' || Array.isArray(own) || isRow(own))
        return false;
      const text = own instanceof Written ? own.digits : own;
      return text !== '' && !seen.has(text) && Boolean(seen.add(text));
    });
    if (tells) return name;
  }
  return null;
}
