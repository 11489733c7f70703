import type { Cell } from '../fields/lists.ts';
import type { Table } from '../tables/schema.ts';
import { cellOf, type ToLocal } from './cell-of.ts';
import { picked } from './picks.ts';
import type { Pick } from './schema.ts';

/** A record that was taken out of an answer. */
export interface TakenRow {
  /** Its id: the text of its key, so that whoever has the id can ask for the record. */
  id: string;
  cells: Record<string, Cell>;
  /** How the service marks it as it is (RFC 9110, 8.8.3: ETag), where it does. */
  mark?: string;
}

/** What was taken out of an answer. */
export interface Taken {
  /** By the ids of picks. */
  picks: Record<string, Cell | Cell[]>;
  /** By the ids of fetched tables. */
  rows: Record<string, TakenRow[]>;
  /** What could not be taken over as it is, in words. */
  notes: string[];
}

/** A fetched table with where its records are in this answer. */
export interface FromAnswer {
  table: Table;
  at: string;
}

/** So many records are taken out of one answer. */
export const MOST_ROWS = 5000;
const LONGEST_KEY = 200;

/** Takes picks and records out of an answer, as their fields keep them. Never throws: what cannot be had is noted. */
export function taken(answer: unknown, picks: readonly Pick[], tables: readonly FromAnswer[], toLocal: ToLocal): Taken {
  const out: Taken = { picks: {}, rows: {}, notes: [] };
  const at = (value: unknown, path: string): unknown[] => {
    try {
      return picked(value, path);
    } catch (e) {
      out.notes.push((e as Error).message);
      return [];
    }
  };
  for (const p of picks) {
    const found = at(answer, p.path).map((v) => cellOf(p, v, toLocal));
    const misfits = found.filter((c) => c === undefined).length;
    if (misfits)
      out.notes.push(`${count(misfits, 'value')} of ${p.name} ${misfits === 1 ? 'does' : 'do'} not fit its type.`);
    const cells = found.map((c) => c ?? null);
    out.picks[p.id] = isOne(p.path) ? (cells[0] ?? null) : cells;
  }
  for (const { table, at: path } of tables) {
    // Where there is one record alone, some services give it in place of a list of one.
    const [around] = path.endsWith('[*]') && isOne(path.slice(0, -3)) ? at(answer, path.slice(0, -3)) : [];
    const found = typeof around === 'object' && around !== null && !Array.isArray(around) ? [around] : at(answer, path);
    const list = isOne(path) && Array.isArray(found[0]) ? (found[0] as unknown[]) : found;
    out.rows[table.id] = rowsOf(table, list, toLocal, out.notes);
  }
  return out;
}

/** Does a path lead to one place at most (RFC 9535, 2.3.5: a singular query)? */
const isOne = (path: string): boolean =>
  !/\*|\.\.|\?|:|,/.test(path.replace(/'(?:[^'\\]|\\.)*'|"(?:[^"\\]|\\.)*"/g, ''));

function rowsOf(table: Table, list: readonly unknown[], toLocal: ToLocal, notes: string[]): TakenRow[] {
  const rows = new Map<string, TakenRow>();
  const misfits = new Map<string, number>();
  let keyless = 0;
  const fields = table.fields.filter((f) => f.pick);
  for (const item of list.slice(0, MOST_ROWS)) {
    const cells: Record<string, Cell> = {};
    for (const f of fields) {
      const value = isPlain(f.pick!) ? plainAt(item, f.pick!) : picked(item, f.pick!)[0];
      // What is not in this answer stays as another has told it.
      if (value === undefined) continue;
      const cell = cellOf(f, value, toLocal);
      if (cell === undefined) misfits.set(f.name, (misfits.get(f.name) ?? 0) + 1);
      else cells[f.id] = cell;
    }
    const key = cells[table.fetched!.key];
    const id = key === undefined || key === null ? '' : String(key);
    if (!id || id.length > LONGEST_KEY) keyless++;
    else rows.set(id, { id, cells, ...markIn(item) });
  }
  if (list.length > MOST_ROWS) notes.push(`Only the first ${MOST_ROWS} of ${list.length} records are taken over.`);
  if (keyless) notes.push(`${count(keyless, 'record')} without a key ${keyless === 1 ? 'is' : 'are'} left out.`);
  const twice = Math.min(list.length, MOST_ROWS) - keyless - rows.size;
  if (twice) notes.push(`${count(twice, 'record')} ${twice === 1 ? 'has' : 'have'} a key that another one has, too.`);
  for (const [name, n] of misfits)
    notes.push(
      `${count(n, 'value')} of ${name} ${n === 1 ? 'does' : 'do'} not fit its type and ${n === 1 ? 'is' : 'are'} left empty.`,
    );
  return [...rows.values()];
}

/** OData has the mark of a record in it: `@odata.etag` (JSON format 4.01, 4.6.10), in version 2 in its metadata. */
function markIn(item: unknown): { mark?: string } {
  const mark = picked(item, "$['@odata.etag']")[0] ?? picked(item, "$['__metadata']['etag']")[0];
  return typeof mark === 'string' && isMark(mark) ? { mark } : {};
}
/** An entity tag (RFC 9110, 8.8.3), short enough to be sent back. */
export const isMark = (text: string): boolean => /^(W\/)?"[\x21\x23-\x7e\x80-\xff]{0,300}"$/.test(text);

const count = (n: number, what: string): string => `${n.toLocaleString('en-GB')} ${what}${n === 1 ? '' : 's'}`;

/** Most paths of fields are names alone; they are followed without the whole of the standard. */
const PLAIN = /^\$(?:\['(?:[^'\\])*'\])*$/;
const NAME = /\['([^'\\]*)'\]/g;
const isPlain = (path: string): boolean => PLAIN.test(path);
function plainAt(value: unknown, path: string): unknown {
  let at = value;
  for (const [, name] of path.matchAll(NAME)) {
    if (typeof at !== 'object' || at === null || Array.isArray(at) || !Object.hasOwn(at, name!)) return undefined;
    at = (at as Record<string, unknown>)[name!];
  }
  return at;
}
