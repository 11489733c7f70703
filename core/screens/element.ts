import type { Brought, AnyElement, Held, Properties, Property, Unfilled } from '../document/meaning.ts';
import type { Upgrade } from '../document/upgrade.ts';
import type { Query } from '../document/pieces.ts';
import type { Value } from '../formula/values.ts';
import type { LiveQuery } from '../records/live-query.ts';
import type { Thing } from '../records/model.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { Field, Table } from '../tables/schema.ts';

/** One place on a screen that an element is drawn at: inside a list there is one for each row. */
export interface Place {
  /** What formulas read: the runtime, no record of their own, then the things in reach. */
  readonly frame: Value[];
  /** What the person has done here: the part of a list in view, what is looked for. */
  readonly view: Readonly<Record<string, unknown>>;
  /** Makes something once for this place and gives it back at every drawing, as long as `of` stays the same. */
  keep<T>(of: object, make: () => T): T;
}

/** A compiled formula at a place, and the field whose format its value takes. */
export interface CompiledFormula {
  at(place: Place): Value;
  /** Is what it names hidden from whoever uses the app? */
  isHidden(place: Place): boolean;
  field: Field | undefined;
}

/** What an element's drawing asks of the compiler. Whatever is asked for is also what the element is drawn again for. */
export interface Drawing {
  readonly records: Records;
  /** The form around, by its table; null when there is none. */
  readonly form: string | null;
  /** There are rules that say who may do what. */
  readonly ruled: boolean;
  /** Is a thing of this id in reach? */
  has(thing: string): boolean;
  words(template: string): (place: Place) => string;
  formula(stored: string): CompiledFormula;
  /** `searchable` makes the words that people look for ready beforehand. */
  query(query: Query, searchable?: boolean): (place: Place) => LiveQuery;
  /** Draws again when any record's value of this field changes; without a field, of any field of the table. */
  reads(table: string, field?: string): void;
  /** The content of an app's own file as an address; other addresses as they are. */
  address(source: string): string;
}

/** What is at hand where a new element is put. */
export interface Beginning {
  /** A new id by its letter. */
  id(letter: string): string;
  tables: readonly Table[];
  /** The table whose record is at hand, or the first. */
  table: Table | null;
  /** The table of the form around. */
  form: Table | null;
  /** A new element that shows one record of a table. */
  row(table: Table): AnyElement;
  /** A new element of another kind, with more than it begins with. */
  fresh(kind: string, more?: Record<string, unknown>): AnyElement;
}

/** How names are found when an element says what it is called. */
export interface Naming {
  /** Words with each value in them called by its field. */
  words(template: string): string;
  table(id: string): Table | undefined;
  field(id: string): Field | undefined;
}

/** What preflight knows of the place an element stands at. */
export interface ElementPlace {
  tables: readonly Table[];
  /** The form around, by its table; null when there is none. */
  form: string | null;
  /** What formulas may name there. */
  things: readonly Thing[];
  /** The fields of a table, variables among them as those of their own. */
  fields(table: string): readonly Field[];
}

/**
 * A kind of element. One folder holds this definition, its view on the phone, its desk card and its thumbnail.
 * `P` is what the document holds of it, `D` what its drawing gives to its view.
 */
export interface ElementDefinition<
  K extends string = string,
  P extends Properties = Properties,
  D extends object = object,
> {
  readonly kind: K;
  /** What people call it, and a few words more where kinds are chosen from. */
  readonly said: { name: string; hint: string };
  readonly properties: P;
  /** Offered only where this is at hand. */
  readonly needs?: 'table' | 'form' | 'part';
  /** It is there for what its `tap` does: where that would be refused, it is not shown. */
  readonly standsForTap?: true;
  begin(at: Beginning): Held<P>;
  /** What this one is called in outlines; the name of the kind when there is nothing better. */
  name?(e: Held<P> & AnyElement, naming: Naming): string;
  /** Compiles the drawing; what it gives is called for each place and gives plain data. */
  draw(e: Held<P> & AnyElement, d: Drawing): (place: Place) => D;
  /** What is unfinished beyond properties that are not filled in. */
  notes?(e: Held<P> & AnyElement, at: ElementPlace): Unfilled[];
  /** Once its properties have changed: an earlier form of it as today's. */
  upgrade?: Upgrade;
}

type ElementData<K extends string, P extends Properties> = Pick<
  ElementDefinition<K, P>,
  'kind' | 'said' | 'properties' | 'needs' | 'standsForTap'
>;
/** Defines a kind of element: first what it is and holds, then what it does. */
export const defineElement = <const K extends string, P extends Properties>(data: ElementData<K, P>) => ({
  does: <D extends object>(
    functions: Omit<ElementDefinition<K, P, D>, keyof ElementData<K, P>>,
  ): ElementDefinition<K, P, D> => ({ ...data, ...functions }),
});

/** A definition of any kind, as generic code sees it. */
export interface AnyElementDefinition extends Pick<
  ElementDefinition,
  'kind' | 'said' | 'properties' | 'needs' | 'standsForTap'
> {
  begin(at: Beginning): object;
  name?(e: AnyElement, naming: Naming): string;
  draw(e: AnyElement, d: Drawing): (place: Place) => object;
  notes?(e: AnyElement, at: ElementPlace): Unfilled[];
  upgrade?: Upgrade;
}
/** Definitions by kind: all of them in the studio, the used ones on a phone. */
export type ElementKinds = ReadonlyMap<string, AnyElementDefinition>;

export interface DrawnCommon {
  /** The element's id. */
  id: string;
  /** Names this place on the screen: the element's id after those of the lists and rows it stands in. */
  key: string;
  width?: AnyElement['width'];
  height?: AnyElement['height'];
  stands?: AnyElement['stands'];
}
/** A row of a list: one record, with the keys of what is drawn of it. */
export interface DrawnRow {
  key: string;
  record: string;
  children: string[];
}
/** What the view of a kind gets: what its drawing gives, with the keys of what stands in its slots. */
export type Drawn<E> =
  E extends ElementDefinition<infer K, infer P, infer D>
    ? DrawnCommon & { kind: K } & Omit<D, 'rows'> & {
          [
            S in keyof P as P[S] extends Property<infer T> ? (T extends { slot: 'elements' } ? S : never) : never
          ]: string[];
        } & (D extends { rows: readonly Row[] } ? { rows: DrawnRow[] } : object)
    : never;
/** Any drawn element, as it travels to the page. */
export interface DrawnNode extends DrawnCommon {
  kind: string;
  [data: string]: unknown;
}

export type { Brought, Thing };
