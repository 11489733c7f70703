import type { FieldValue, Query, Size, Stands, Tap, Where } from './pieces.ts';

/**
 * What a property of an element, a step or a trigger means. A kind declares its properties with the functions below;
 * from the meanings alone the app checks documents, formulas and unfilled places, renames, copies, finds uses, knows
 * what is in reach and draws a desk. Nothing here runs or validates by itself, so that a phone need not load it all.
 */
export type Meaning =
  | 'words'
  | 'formula'
  | 'query'
  | 'where'
  | 'values'
  | 'tap'
  | 'oneOf'
  | 'number'
  | 'yesNo'
  | 'text'
  | 'size'
  | 'sides'
  | 'icon'
  | 'table'
  | 'field'
  | 'fields'
  | 'screen'
  | 'variable'
  | 'part'
  | 'routine'
  | 'request'
  | 'element'
  | 'taps'
  | 'result'
  | 'elements'
  | 'steps';

/** What a formula should give; an address is that of a sound, a video or a page. */
export type Wanted = 'any' | 'value' | 'record' | 'yesNo' | 'picture' | 'mail' | 'address';

/** Said of a place that is not filled in. `stops` keeps the app from being released. */
export interface Unfilled {
  severity: 'stops' | 'look';
  /** "no picture is chosen." */
  said: string;
}

export interface Property<T = unknown> {
  readonly is: Meaning;
  /** What the property is called in sentences: "the picture". */
  readonly said: string;
  readonly optional?: boolean;
  readonly unfilled?: Unfilled;
  readonly wants?: Wanted;
  readonly values?: readonly (string | number)[];
  readonly labels?: Readonly<Record<string, string>>;
  readonly least?: number;
  readonly most?: number;
  readonly whole?: boolean;
  /** Its formulas are read where the things in this slot stand, not where the element stands. */
  readonly inside?: string;
  /** The property that names the table whose fields are written, or whose record conditions are about. */
  readonly of?: string;
  readonly slot?: Slot;
  /** It is read once for each record that the step is about, with the step's own result as that record. */
  readonly ownResult?: true;
  /** Words of several lines. */
  readonly lines?: number;
  /** Only for the type checker: what a document holds here. */
  readonly holds?: T;
}

/** What a slot for elements or steps brings into reach of what stands in it. */
export interface Brought {
  /** A record of this table. */
  row?: string;
  /** The form that what is inside belongs to, by its table. */
  form?: string;
}

export interface Slot {
  /** What is inside is drawn once for each record that the element's drawing names in `rows`. */
  each?: boolean;
  /** `owner` is the element or step with the slot, as it stands in the document. */
  brings?(owner: Record<string, unknown>): Brought;
  /** What the studio writes above it: "Otherwise". */
  label?: string;
  /** Only steps of this kind stand in it, and nowhere else. */
  only?: string;
}

export type Properties = Readonly<Record<string, Property>>;

/** Stands for the list of elements or steps that a slot holds. */
export interface SlotOf<Of extends 'elements' | 'steps'> {
  readonly slot: Of;
}

type With = Pick<Property, 'unfilled' | 'inside' | 'lines' | 'ownResult'>;

/** Marks a property that a document may leave out. */
export const optional = <P extends Property>(p: P): P & { optional: true } => ({ ...p, optional: true });

/** Words with `{formula}` places. */
export const words = (said: string, more: With = {}): Property<string> => ({ is: 'words', said, ...more });
/** A stored formula. */
export const formula = (said: string, wants: Wanted, more: With = {}): Property<string> => ({
  is: 'formula',
  said,
  wants,
  ...more,
});
/** Which records, in what order, how many. */
export const query = (said: string, more: With = {}): Property<Query> => ({ is: 'query', said, ...more });
/** Conditions; with `of` they are about a record of the table that this property names. */
export const where = (said: string, more: With & Pick<Property, 'of'> = {}): Property<Where> => ({
  is: 'where',
  said,
  ...more,
});
/** Fields with the formulas they are set to; `of` is the property with the table, or with a formula for the record. */
export const fieldValues = (said: string, of: string, more: With = {}): Property<FieldValue[]> => ({
  is: 'values',
  said,
  of,
  ...more,
});
/** What a tap does. */
export const tap = (said: string, more: With = {}): Property<Tap> => ({ is: 'tap', said, ...more });
/** One of a few fixed values, with the words people read for them. */
export const oneOf = <const T extends string>(said: string, labels: Readonly<Record<T, string>>): Property<T> => ({
  is: 'oneOf',
  said,
  values: Object.keys(labels),
  labels,
});
export const number = (
  said: string,
  least: number,
  most: number,
  more: { whole?: boolean } = {},
): Property<number> => ({
  is: 'number',
  said,
  least,
  most,
  ...more,
});
export const yesNo = (said: string, labels?: { true: string; false: string }): Property<boolean> => ({
  is: 'yesNo',
  said,
  ...(labels && { labels }),
});
/** Plain words without values in them. */
export const text = (said: string, most = 200): Property<string> => ({ is: 'text', said, most });
/** Fit, fill or a number of pixels. */
export const size = (said: string): Property<Size> => ({ is: 'size', said });
/** A length in pixels for each side, from the top clockwise, or for each corner from the top left. */
export const sides = (said: string, least: number, most: number): Property<number[]> => ({
  is: 'sides',
  said,
  least,
  most,
});
export const icon = (said: string): Property<string> => ({ is: 'icon', said });
/** The id of a table, field or screen; empty, or one that is gone, means not chosen yet. */
export const table = (said: string, more: With = {}): Property<string> => ({ is: 'table', said, ...more });
export const field = (said: string, of: string, more: With = {}): Property<string> => ({
  is: 'field',
  said,
  of,
  ...more,
});
/** The ids of several fields; those that are gone are left out. */
export const fields = (said: string, of: string, more: With = {}): Property<string[]> => ({
  is: 'fields',
  said,
  of,
  ...more,
});
export const screen = (said: string, more: With = {}): Property<string> => ({ is: 'screen', said, ...more });
/** The id of a variable; empty, or one that is gone, means not chosen yet. */
export const variable = (said: string, more: With = {}): Property<string> => ({ is: 'variable', said, ...more });
/** The id of a part; empty, or one that is gone, means not chosen yet. */
export const part = (said: string, more: With = {}): Property<string> => ({ is: 'part', said, ...more });
/** The id of a routine; empty, or one that is gone, means not chosen yet. */
export const routine = (said: string, more: With = {}): Property<string> => ({ is: 'routine', said, ...more });
/** The id of a request of a service; empty, or one that is gone, means not chosen yet. */
export const request = (said: string, more: With = {}): Property<string> => ({ is: 'request', said, ...more });
/** The id of an element; empty, or one that is gone, means not chosen yet. */
export const element = (said: string, more: With = {}): Property<string> => ({ is: 'element', said, ...more });
/** What the taps do that a part leaves to its places. */
export const taps = (said: string): Property<{ input: string; tap: Tap }[]> => ({ is: 'taps', said });
/** The id by which later steps know what this one gave. Its name stands in the property of the same name with `Name`. */
export const result = (said: string): Property<string> => ({ is: 'result', said });
/** A place for elements. */
export const elements = (said: string, most: number, slot: Slot & With = {}): Property<SlotOf<'elements'>> => {
  const { unfilled, inside: _inside, lines: _lines, ...rest } = slot;
  return { is: 'elements', said, most, slot: rest, ...(unfilled && { unfilled }) };
};
/** A place for steps. */
export const steps = (said: string, most: number, slot: Slot = {}): Property<SlotOf<'steps'>> => ({
  is: 'steps',
  said,
  most,
  slot,
});

/** What slots hold. An interface, so that elements can hold elements. */
export interface Inner {
  element: unknown;
  step: unknown;
}
/** What slots hold as generic code sees it. */
export interface AnyInner {
  element: AnyElement;
  step: AnyStep;
}

/** What a document holds for declared properties. */
export type Held<P extends Properties, I extends Inner = AnyInner> = {
  -readonly [K in keyof P as P[K] extends { optional: true } ? never : K]: Holding<P[K], I>;
} & {
  -readonly [K in keyof P as P[K] extends { optional: true } ? K : never]?: Holding<P[K], I> | undefined;
};
type Holding<P, I extends Inner> =
  P extends Property<infer T>
    ? T extends SlotOf<'elements'>
      ? I['element'][]
      : T extends SlotOf<'steps'>
        ? I['step'][]
        : T
    : never;

/** An element or step of any kind, as generic code sees it. */
export interface AnyElement {
  id: string;
  kind: string;
  name?: string | undefined;
  seenWhen?: string | undefined;
  /** Formulas for properties that are worked out, by their names; the fixed value stands where one gives none that fits. */
  worked?: Record<string, string> | undefined;
  width?: Size | undefined;
  height?: Size | undefined;
  stands?: Stands | undefined;
}
export interface AnyStep {
  id: string;
  do: string;
  /** Switched off: a run passes it over. */
  off?: true | undefined;
  /** What the maker wrote beside it. */
  note?: string | undefined;
  /** Done so many times more when it fails. */
  again?: number | undefined;
  /** What happens when it fails, in place of the end of the routine. */
  ifFails?: AnyStep[] | undefined;
  /** The id by which those steps know why, as a text. */
  reason?: string | undefined;
  /** The id by which they know what sort of failure it was, as one of a few texts. */
  sort?: string | undefined;
}

/** The names of a kind's slots for elements or steps. */
export const slotsOf = (properties: Properties, of: 'elements' | 'steps'): string[] =>
  Object.keys(properties).filter((k) => properties[k]!.is === of);
