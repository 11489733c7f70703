import { listAround, pathOf, type Location } from '../../core/services/picks.ts';

/** A line of an answer that is shown as a tree. */
export interface AnswerRow {
  at: Location;
  path: string;
  /** Its name, or its number in a list; empty for the whole. */
  name: string;
  depth: number;
  value: unknown;
  /** How many are in it; null for a plain value. */
  inside: number | null;
  isOpen: boolean;
}

const isHolder = (v: unknown): v is object => typeof v === 'object' && v !== null;
const entriesOf = (v: object): [string | number, unknown][] =>
  Array.isArray(v) ? v.map((x, i) => [i, x]) : Object.entries(v);

/** What is open when an answer comes: the whole, and what leads to its first list and its first record. */
export function openAtFirst(value: unknown): Set<string> {
  const open = new Set<string>();
  let at: Location = [];
  let now = value;
  for (let deep = 0; deep < 4 && isHolder(now); deep++) {
    open.add(pathOf(at));
    const entries = entriesOf(now);
    const next = Array.isArray(now) ? entries[0] : (entries.find(([, v]) => Array.isArray(v)) ?? null);
    if (!next) break;
    at = [...at, next[0]];
    now = next[1];
  }
  return open;
}

/** The lines of an answer, as far as they are open. */
export function rowsOf(value: unknown, open: ReadonlySet<string>): AnswerRow[] {
  const rows: AnswerRow[] = [];
  const walk = (v: unknown, at: Location, name: string): void => {
    const path = pathOf(at);
    const entries = isHolder(v) ? entriesOf(v) : null;
    const isOpen = entries !== null && open.has(path);
    rows.push({ at, path, name, depth: at.length, value: v, inside: entries?.length ?? null, isOpen });
    if (isOpen) for (const [key, inner] of entries!) walk(inner, [...at, key], String(key));
  };
  walk(value, [], '');
  return rows;
}

/** So many lines that hold what is looked for are shown. */
export const MOST_FOUND = 500;

/** The lines whose name or value holds some words, each with its way there in its name. */
export function foundRows(value: unknown, words: string): AnswerRow[] {
  const wanted = words.trim().toLowerCase();
  const rows: AnswerRow[] = [];
  const walk = (v: unknown, at: Location): void => {
    if (rows.length >= MOST_FOUND) return;
    const inside = isHolder(v) ? entriesOf(v) : null;
    const name = String(at.at(-1) ?? '');
    const holds = name.toLowerCase().includes(wanted) || (!inside && String(v).toLowerCase().includes(wanted));
    if (holds && at.length)
      rows.push({
        at,
        path: pathOf(at),
        name: at.join(' › '),
        depth: 0,
        value: v,
        inside: inside?.length ?? null,
        isOpen: false,
      });
    for (const [key, inner] of inside ?? []) walk(inner, [...at, key]);
  };
  walk(value, []);
  return rows;
}

/** What is at a place of an answer. */
export const valueAt = (value: unknown, at: Location): unknown =>
  at.reduce<unknown>((v, key) => (isHolder(v) ? (v as Record<string | number, unknown>)[key] : undefined), value);

/** The list that a place is in, or is: where its records are, and its place in each of them. */
export function recordsAt(value: unknown, at: Location): { list: Location; within: Location; items: unknown[] } | null {
  const own = valueAt(value, at);
  const list = Array.isArray(own) ? at : listAround(at);
  const items = list && valueAt(value, list);
  return list && Array.isArray(items) && items.length ? { list, within: at.slice(list.length + 1), items } : null;
}
