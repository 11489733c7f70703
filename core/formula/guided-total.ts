import type { Where } from '../document/pieces.ts';

/** The figures that many records have. */
export type Total = 'count' | 'sum' | 'mean' | 'min' | 'max';
export const TOTALS: readonly Total[] = ['count', 'sum', 'mean', 'min', 'max'];

/** One figure of many records: `sum(Visits[Temper > 3].Fed)`. */
export interface TotalOf {
  kind: 'total';
  how: Total;
  list: string;
  field: string;
  where: Where;
}

/** A value that is the same in two records: a field of the counted one, and the stored path of the other's. */
export interface SameValue {
  there: string;
  here: string;
}

/** A figure of the records of another table that have the same values: `sum(all Moves[Place = this stock.Place].Amount)`. */
export interface TotalBy {
  kind: 'total by';
  how: Total;
  /** All records of a table, or those at the other end of a link: `Goods.Moves`. */
  list: string;
  field: string;
  same: SameValue[];
}

/** `Goods.Moves`: the records that link to the same one as a field of this. Ids of fields begin with f. */
const BACK = /^(f_[^_.]+)\.(f_[^_.]+)_back$/;

/** Fields of both records that link to the same one, where the list goes that way. */
export function linkPairOf(list: string): { here: string; there: string } | null {
  const found = BACK.exec(list);
  return found && { here: found[1]!, there: found[2]! };
}

/** The formula of a figure by same values; null while a place of it is not filled in. */
export function totalByFormula({ how, list, field, same }: TotalBy): string | null {
  const isFilled = same.every((s) => s.there && s.here) && (same.length > 0 || linkPairOf(list) !== null);
  if (!list || !isFilled || (how !== 'count' && !field)) return null;
  const where = same.map((s) => `${s.there} = ${s.here}`).join(' and ');
  const of = where ? `${list}[${where}]` : list;
  return how === 'count' ? `count(${of})` : `${how}(${of}.${field})`;
}

/** A figure as one by same values, where all its conditions are such; itself otherwise. */
export function asTotalBy(s: TotalOf): TotalOf | TotalBy {
  const { match, conditions } = s.where;
  const isBy =
    (linkPairOf(s.list) !== null || (s.list.startsWith('all_') && conditions.length > 0)) &&
    (match === 'all' || conditions.length < 2) &&
    conditions.every((c) => c.op === 'is' && /^\w+$/.test(c.left) && /^this_\w+\.\w+$/.test(c.right));
  if (!isBy) return s;
  const same = conditions.map((c) => ({ there: c.left, here: c.right }));
  return { kind: 'total by', how: s.how, list: s.list, field: s.field, same };
}
