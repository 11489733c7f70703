import { allId, backId, thisId } from '../document/ids.ts';
import { fieldKind } from '../fields/kinds.ts';
import { linkPairOf, type Total, type TotalBy } from '../formula/guided-total.ts';
import { isSeveral } from '../records/model.ts';
import { tableOf } from '../tables/names.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { App } from './schema.ts';

/** A field of one table and one of another that can hold the same value, by their ids. */
export interface Pair {
  here: string;
  there: string;
}

/** Nobody asks for the same picture, and a formula may be the very sum. */
const isCompared = (f: Field): boolean => !isSeveral(f) && f.type !== 'formula' && !fieldKind(f.type).holdsFile;

/** Can two fields hold the same value? Of different types only where they have the same name: a code, and the text of one. */
function isAlike(a: Field, b: Field): boolean {
  if (!isCompared(a) || !isCompared(b)) return false;
  if (a.link || b.link) return a.link?.table === b.link?.table;
  const isSameType = fieldKind(a.type).valueType(a).k === fieldKind(b.type).valueType(b).k;
  return a.type === b.type || (isSameType && a.name === b.name);
}

/** The pairs of fields of two tables that can hold the same value; those with the same name come first. */
export function pairsOf(here: Table, there: Table): Pair[] {
  const all = here.fields.flatMap((a) => there.fields.filter((b) => isAlike(a, b)).map((b) => [a, b] as const));
  const rank = ([a, b]: (typeof all)[number]): number => (a.name === b.name ? 0 : 2) + (a.link ? 0 : 1);
  return all.toSorted((x, y) => rank(x) - rank(y)).map(([a, b]) => ({ here: a.id, there: b.id }));
}

/**
 * A figure of the records of another table that have the same values as one of this: over a link to the same record where
 * a pair is one, since that is looked up, and over the whole table otherwise.
 */
export function totalBy(here: Table, there: Table, how: Total, field: string, pairs: readonly Pair[]): TotalBy {
  const isLink = (p: Pair): boolean => Boolean(here.fields.find((f) => f.id === p.here)?.link);
  const by = pairs.find(isLink);
  return {
    kind: 'total by',
    how,
    list: by ? `${by.here}.${backId(by.there)}` : allId(there.id),
    field,
    same: pairs.filter((p) => p !== by).map((p) => ({ there: p.there, here: `${thisId(here.id)}.${p.here}` })),
  };
}

/** The pairs of a figure by same values, that of its link first. */
export function pairsIn({ list, same }: TotalBy): Pair[] {
  const by = linkPairOf(list);
  const others = same.map((s) => ({ there: s.there, here: s.here.slice(s.here.lastIndexOf('.') + 1) }));
  return by ? [by, ...others] : others;
}

/** The table whose records a figure by same values is of; null where there is none. */
export function countedTable(app: App, { list }: TotalBy): Table | null {
  const by = linkPairOf(list);
  if (!by) return tableOf(app, list.replace(/^all_/, '')) ?? null;
  return app.tables.find((t) => t.fields.some((f) => f.id === by.there)) ?? null;
}
