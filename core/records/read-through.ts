import type { Compiled } from '../formula/compile.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Field } from '../tables/schema.ts';
import { WHOLE, type LinkEnd, type Model } from './model.ts';

/** A field that is read, formula fields on the way to stored ones among them, or with {@link WHOLE} which records of a table there are. */
export interface Leaf {
  table: string;
  field: string;
  /** It is read of other records than the one at hand. */
  isFar: boolean;
}

/** What a formula or conditions read, through formula fields and along links. */
export interface ReadThrough {
  leaves: Leaf[];
  /** The formulas of the formula fields among it, in one text. */
  formulas: string;
  /** A formula field among it that does not work out. */
  broken: Field | null;
}

/** Follows what is read to the stored fields it hangs on. */
export function readThrough(model: Model, reads: readonly Dependency[]): ReadThrough {
  const leaves = new Map<string, Leaf>();
  const seen = new Set<string>();
  const formulas: string[] = [];
  let broken: Field | null = null;
  const leaf = (table: string, field: string, isFar: boolean): void =>
    void leaves.set(`${table} ${field} ${isFar}`, { table, field, isFar });
  const along = (end: LinkEnd, isFar: boolean): void => {
    const { here, there } = decidedBy(end);
    if (here !== null) leaf(end.table, here, isFar);
    leaf(end.target, there ?? WHOLE, true);
  };
  const linkOf = (table: string, id: string): LinkEnd | undefined =>
    model.tables.get(table)?.links.find((l) => l.id === id);
  const follow = ({ table, field: id, origin }: Dependency, isFar: boolean): void => {
    let far = isFar || origin.from !== 'self';
    if (origin.from === 'self' && origin.hops.length) {
      for (const end of walked(model, table, origin.hops)) {
        along(end, far);
        far = true;
      }
      far = true;
    }
    const key = `${table} ${id} ${far}`;
    if (seen.has(key)) return;
    seen.add(key);
    const field = model.tables.get(table)?.fields.get(id);
    const link = linkOf(table, id);
    if (link) along(link, far);
    if (!link || field) leaf(table, id, far);
    if (field?.type !== 'formula') return;
    formulas.push(field.formula ?? '');
    const compiled: Compiled = model.formula(table, field);
    if (compiled.problems.some((p) => p.severity === 'error')) broken ??= field;
    for (const d of compiled.dependencies) follow(d, far);
  };
  for (const d of reads) follow(d, false);
  return { leaves: [...leaves.values()], formulas: formulas.join(' '), broken };
}

/** The links of a way that ends in a table, first to last; those of it that are known. */
function walked(model: Model, table: string, hops: readonly string[]): LinkEnd[] {
  const ends: LinkEnd[] = [];
  let at = table;
  for (const hop of [...hops].reverse()) {
    const end = [...model.tables.values()].flatMap((t) => t.links).find((l) => l.id === hop && l.target === at);
    if (!end) break;
    ends.unshift(end);
    at = end.table;
  }
  return ends;
}

/** The stored fields that decide where a link leads, at this end and at the other. */
function decidedBy({ back, field: { id, link } }: LinkEnd): { here: string | null; there: string | null } {
  if (link!.kind === 'picked') return back ? { here: null, there: id } : { here: id, there: null };
  return back ? { here: link!.to!, there: link!.from! } : { here: link!.from!, there: link!.to! };
}
