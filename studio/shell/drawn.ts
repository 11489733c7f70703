import { JOINT, ownerOf } from '../../core/screens/part-places.ts';

/** Finds an element of the document on the phone; one of a part that is worked on stands in a place of the part. */
export const selectorOf = (id: string): string => `[data-e="${CSS.escape(id)}"], [data-e$="${JOINT}${CSS.escape(id)}"]`;

/** The element of the document behind something drawn, on a screen or on a part by itself. */
export const elementBehind = (drawn: string, screen: string): string =>
  screen.startsWith('c_') ? (drawn.split(JOINT)[1] ?? drawn) : ownerOf(drawn);
