import { thisId } from '../document/ids.ts';
import type { AnyElement, Properties, Property } from '../document/meaning.ts';
import type { Query, Tap } from '../document/pieces.ts';
import { joinPieces, pieces } from '../records/words.ts';
import type { ElementKinds } from './element.ts';
import { JOINT, usePlaces, type PartDoc, type PartUse, type PlacedTap } from './part-places.ts';

/**
 * A part is a box that stands at several places. What it needs to know comes by its inputs, whose values each place
 * gives. It is drawn as if its elements stood at the place, with the values in place of the inputs: so formulas, lists
 * and what they follow are those of any other element.
 */

const TOKEN = /"(?:[^"\\]|\\.)*"|\b(?:(?:all|this)_)?[a-z]_[a-z0-9]{6,24}(?:_back)?\b/g;
/** Paths and plain values stand where the input stood; anything else in brackets. */
const SIMPLE = /^(?:[\w.]+|"(?:[^"\\]|\\.)*")$/;

/** Does a stored formula name this id? */
export const mentions = (formula: string, id: string): boolean =>
  formula.match(TOKEN)?.some((token) => token === id) ?? false;

/** The elements of a part at one of its places. */
export function expanded(
  kinds: ElementKinds,
  part: PartDoc,
  use: PartUse,
  renamed = (id: string): string => `${use.id}${JOINT}${id}`,
): AnyElement {
  const given = new Map(use.values.map((v) => [v.field, v.value]));
  // What a place says of taps is meant where the place stands, also for a tap in a list inside of the part.
  const taps = new Map(use.taps?.map((t) => [t.input, { of: use.id, ...t.tap } as PlacedTap]));
  const values = new Map(part.inputs.map((i) => [i.id, given.get(i.id) || i.first || 'null']));
  const root = new Replacing(kinds, taps, renamed).element(part.root, values);
  return {
    ...root,
    id: use.id,
    ...(use.seenWhen !== undefined && { seenWhen: use.seenWhen }),
    ...(use.width !== undefined && { width: use.width }),
    ...(use.height !== undefined && { height: use.height }),
    ...(use.stands && { stands: use.stands }),
  };
}

/** What stands in place of names, by their ids. */
export type Replacements = ReadonlyMap<string, string>;

/** A copy of elements in which names are replaced by formulas, and every id by another. */
export class Replacing {
  /** Names whose value could not be given somewhere, since another record has its name there. */
  readonly lost = new Set<string>();

  constructor(
    private readonly kinds: ElementKinds,
    private readonly taps: ReadonlyMap<string, PlacedTap>,
    private readonly renamed: (id: string) => string,
  ) {}

  element(e: AnyElement, values: Replacements): AnyElement {
    const properties: Properties = this.kinds.get(e.kind)?.properties ?? {};
    const held = e as unknown as Record<string, unknown>;
    const next: Record<string, unknown> = { ...held, id: this.renamed(e.id) };
    for (const [name, p] of Object.entries(properties)) {
      if (held[name] === undefined) continue;
      const slot = p.inside ? properties[p.inside]?.slot : p.slot;
      const row = slot?.brings?.(held).row;
      next[name] = this.property(p, held[name], row ? this.within(values, thisId(row)) : values);
    }
    if (e.seenWhen !== undefined) next['seenWhen'] = this.formula(e.seenWhen, values);
    if (e.worked) next['worked'] = this.deep(e.worked, values);
    return next as unknown as AnyElement;
  }

  /** Where a row of a list stands before a record further out, that one’s name means the row. */
  private within(values: Replacements, row: string): Replacements {
    const inner = new Map<string, string>();
    for (const [id, value] of values) {
      if (id === row) continue;
      const taken = mentions(value, row);
      inner.set(id, taken ? LOST + id : value);
    }
    return inner;
  }

  private formula(stored: string, values: Replacements): string {
    return stored.replace(TOKEN, (token) => {
      const value = values.get(token);
      if (value === undefined) return token;
      if (value.startsWith(LOST)) {
        this.lost.add(value.slice(LOST.length));
        return 'null';
      }
      return SIMPLE.test(value) || stored === token ? value : `(${value})`;
    });
  }

  private deep(value: unknown, values: Replacements): unknown {
    if (typeof value === 'string') return this.formula(value, values);
    if (Array.isArray(value)) return value.map((v) => this.deep(v, values));
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, this.deep(v, values)]));
    return value;
  }

  private tap(t: Tap, values: Replacements): unknown {
    return t.do === 'input' ? (this.taps.get(t.input) ?? { do: 'nothing' }) : this.deep(t, values);
  }

  private property(p: Property, value: unknown, values: Replacements): unknown {
    switch (p.is) {
      case 'words':
        return joinPieces(
          pieces(String(value)).map((x) => ('words' in x ? x : { ...x, formula: this.formula(x.formula, values) })),
        );
      case 'tap':
        return this.tap(value as Tap, values);
      case 'taps':
        return (value as { input: string; tap: Tap }[]).map((t) => ({ ...t, tap: this.tap(t.tap, values) }));
      case 'query': {
        const query = value as Query;
        // Among its conditions the record that is looked at has the name of its table.
        const inner = this.within(values, thisId(query.table));
        return {
          ...query,
          ...(query.via !== undefined && { via: this.formula(query.via, values) }),
          ...(typeof query.limit === 'string' && { limit: this.formula(query.limit, values) }),
          ...(query.asks && { asks: this.deep(query.asks, values) }),
          where: this.deep(query.where, inner),
          order: this.deep(query.order, inner),
        };
      }
      case 'formula':
      case 'where':
      case 'values':
        return this.deep(value, values);
      case 'elements':
        return (value as AnyElement[]).map((c) => this.element(c, values));
      default:
        return value;
    }
  }
}

/** Marks a value that cannot be given. */
const LOST = '\u0000';

usePlaces(expanded);
