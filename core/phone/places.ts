import type { Cell } from '../fields/lists.ts';

/** A screen, with the record it is given, before it is opened. */
export interface NewPlace {
  screen: string;
  record: string | null;
  /** It lies upon the screen before, so high. */
  sheet?: 'low' | 'half' | 'full';
  /** What its variables, and the forms on it, begin with. */
  values?: Record<string, Cell> | undefined;
  opening?: string | undefined;
}

/** A screen that is open. */
export interface Place extends NewPlace {
  /** Which opening of the screen it is: going back to it is the same one, opening it again another. */
  opening: string;
}

/** A way from where somebody is. */
export type Go =
  | { to: 'push'; place: NewPlace }
  | { to: 'instead'; place: NewPlace }
  | { to: 'back' }
  | { to: 'tab'; screen: string }
  | { to: 'set'; stack: NewPlace[] }
  /** What a browser's history says, by its own buttons. */
  | { to: 'history'; stack: NewPlace[] };

/** The screens that are opened one upon the other when somebody has gone this way; the same list where nothing moves. */
export function gone(stack: Place[], go: Go, opened: (place: NewPlace) => Place): Place[] {
  switch (go.to) {
    case 'push': {
      const top = stack.at(-1);
      const isThere = top?.screen === go.place.screen && top.record === go.place.record;
      return isThere ? stack : [...stack, opened(go.place)];
    }
    case 'instead':
      return [...stack.slice(0, -1), opened(go.place)];
    case 'back':
      return stack.length > 1 ? stack.slice(0, -1) : stack;
    case 'tab':
      // The tab that is seen already stays as it is.
      return stack.length === 1 && stack[0]!.screen === go.screen && !stack[0]!.record
        ? stack
        : [opened({ screen: go.screen, record: null })];
    case 'set':
    case 'history':
      return go.stack.map(opened);
  }
}

/** How the names of forms on a screen begin. */
export const draftsAt = ({ screen, record }: NewPlace): string => `${screen}/${record ?? ''}/`;
