import { fieldKind } from '../fields/kinds.ts';
import type { TableDraft, TypedRows } from './infer.ts';
import { linkKey } from '../records/table-rows.ts';

/** Two columns of different sheets that hold the same values. `from` is the side with many records. */
export interface LinkDraft {
  from: { table: number; column: number };
  to: { table: number; column: number };
  /** Records of `from` with a value that is found in `to`, of all with a value. */
  found: number;
  of: number;
}

interface Key {
  table: number;
  column: number;
  name: string;
  numeric: boolean;
  /** Its different values, with how often each comes. */
  values: Map<string, number>;
  filled: number;
}

const LINKABLE = new Set(['text', 'number', 'mail', 'phone', 'choice', 'web']);
const words = (s: string): Set<string> =>
  new Set(
    s
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter((w) => w.length > 1),
  );

/** Finds columns that can link tables: unique on one side, and most values of the other side found there. */
export function findLinks(drafts: readonly TableDraft[], data: readonly TypedRows[]): LinkDraft[] {
  if (drafts.length < 2) return [];
  const keys: Key[] = [];
  drafts.forEach((d, table) => {
    d.columns
      .filter((c) => !c.skip)
      .forEach((c, column) => {
        if (!LINKABLE.has(c.type)) return;
        const values = new Map<string, number>();
        let filled = 0;
        for (const row of data[table]!.rows) {
          const key = linkKey(row[column]);
          if (key === null) continue;
          filled++;
          values.set(key, (values.get(key) ?? 0) + 1);
        }
        keys.push({
          table,
          column,
          name: c.name,
          numeric: fieldKind(c.type).range !== undefined,
          values,
          filled,
        });
      });
  });
  // The key side names each record once.
  const unique = keys.filter(
    (k) => k.values.size >= 2 && k.values.size >= k.filled * 0.98 && k.filled >= data[k.table]!.rows.length * 0.8,
  );
  const links: (LinkDraft & { score: number })[] = [];
  const named = (from: Key, to: Key): boolean => alike(from.name, to.name, drafts[to.table]!.name);
  const shared = sharedValues(unique.filter((k) => !k.numeric));
  for (const from of keys) {
    if (from.filled === 0) continue;
    // Numbers from 1 on stand in many sheets: only columns that are called alike are held against one another.
    const common = from.numeric
      ? unique.filter((to) => to.numeric && to.table !== from.table && named(from, to)).map((to) => inCommon(from, to))
      : shared(from);
    for (const { to, found, distinct } of common) {
      if (to.table === from.table) continue;
      const isNamed = named(from, to);
      const share = found / from.filled;
      if (share < (isNamed ? 0.5 : 0.7) || distinct < 2) continue;
      // Of two key columns with the same values, the sheet that holds more of them is the one linked to.
      if (
        from.values.size === from.filled &&
        (to.values.size < from.values.size || (to.values.size === from.values.size && to.table > from.table))
      )
        continue;
      links.push({
        from: { table: from.table, column: from.column },
        to: { table: to.table, column: to.column },
        found,
        of: from.filled,
        score: share + (isNamed ? 1 : 0),
      });
    }
  }
  links.sort((a, b) => b.score - a.score);
  // One column leads to one table once, and one pair of tables is linked by its best columns only when they differ.
  const used = new Set<string>();
  return links
    .filter((l) => {
      const key = `${l.from.table}/${l.from.column}`;
      if (used.has(key)) return false;
      used.add(key);
      return true;
    })
    .map(({ score: _score, ...l }) => l);
}

/** Values of one column that are found in another, in all and different ones. */
interface Common {
  to: Key;
  found: number;
  distinct: number;
}

function inCommon(from: Key, to: Key): Common {
  const common = { to, found: 0, distinct: 0 };
  for (const [v, times] of from.values) {
    if (!to.values.has(v)) continue;
    common.found += times;
    common.distinct++;
  }
  return common;
}

/** Finds for a column which others share values with it: no more work than there are values shared. */
function sharedValues(keys: readonly Key[]): (from: Key) => Common[] {
  const holders = new Map<string, Key[]>();
  for (const key of keys)
    for (const v of key.values.keys()) {
      const list = holders.get(v);
      if (list) list.push(key);
      else holders.set(v, [key]);
    }
  return (from) => {
    const found = new Map<Key, Common>();
    for (const [v, times] of from.values)
      for (const to of holders.get(v) ?? []) {
        const common = found.get(to) ?? { to, found: 0, distinct: 0 };
        common.found += times;
        common.distinct++;
        found.set(to, common);
      }
    return [...found.values()].sort((a, b) => a.to.table - b.to.table || a.to.column - b.to.column);
  };
}

function alike(a: string, b: string, table: string): boolean {
  const [x, y, t] = [words(a), words(b), words(table)];
  const stem = (w: string): string => w.replace(/(ies|s)$/, '').slice(0, 12);
  const has = (set: Set<string>, w: string): boolean => [...set].some((v) => stem(v) === stem(w));
  return (
    [...x].some((w) => has(y, w) && !/^(id|no|nr|name|code)$/.test(w)) ||
    [...x].some((w) => has(t, w)) ||
    a.trim().toLowerCase() === b.trim().toLowerCase()
  );
}
