import type { AnyElement } from '../document/meaning.ts';
import type { Tap } from '../document/pieces.ts';
import type { ElementKinds } from './element.ts';

/** An input of a part: a value as a field holds it, or what a tap does. */
export interface PartInput {
  id: string;
  name: string;
  isTap?: true | undefined;
  /** The formula it has where a place gives none. */
  first: string;
}
export interface PartDoc {
  id: string;
  name: string;
  inputs: readonly PartInput[];
  root: AnyElement;
}
/** A place of a part, as the document holds it. */
export interface PartUse extends AnyElement {
  part: string;
  values: readonly { field: string; value: string }[];
  taps?: readonly { input: string; tap: Tap }[] | undefined;
}

export const isPartUse = (e: AnyElement): e is PartUse => e.kind === 'part';

/** Parts in parts go no deeper. */
export const MOST_DEEP = 8;
/** So many places of parts one place may hold, those within those counted; of more none is drawn. */
export const MOST_PLACES = 1000;

/** What stands between the id of a place and the ids of the elements in it. */
export const JOINT = '.';

/** A tap that is worked out where a place of a part stands, by the id of that. */
export type PlacedTap = Tap & { of?: string };

/** The key of a place of a part, from that of something inside of it; keys are paths of lists, rows and elements. */
export function keyOfPlace(key: string, place: string): string {
  const path = key.split('/');
  const at = path.findIndex((id) => id === place || id.startsWith(`${place}${JOINT}`));
  return at < 0 ? key : [...path.slice(0, at), place].join('/');
}
/** The element of the document that something drawn belongs to: of a part, its place. */
export const ownerOf = (id: string): string => id.split(JOINT, 1)[0]!;

/** Puts the elements of a part in its place. It comes with a file of its own, for apps that have parts. */
export type Expand = (kinds: ElementKinds, part: PartDoc, use: PartUse) => AnyElement;
let expand: Expand | null = null;
export const usePlaces = (known: Expand): void => {
  expand = known;
};
export function placeOfPart(kinds: ElementKinds, part: PartDoc, use: PartUse): AnyElement {
  if (!expand) throw new Error('What draws parts is not loaded.');
  return expand(kinds, part, use);
}
