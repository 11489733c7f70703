import type { Cell } from '../core/fields/lists.ts';
import { useCallback, useEffect, useReducer } from 'react';

/** A screen that is open, with the record it was given. */
export interface Place {
  screen: string;
  record: string | null;
  /** Which opening of the screen it is: going back to it is the same one, opening it again another. */
  opening?: string;
  /** It lies upon the screen before, so high. */
  sheet?: 'low' | 'half' | 'full';
  /** What its variables begin with. */
  values?: Record<string, Cell> | undefined;
}

let openings = 0;
const opened = (place: Place): Place => (place.opening ? place : { ...place, opening: `o${++openings}` });

export interface Where {
  /** The screens opened one upon the other; the last is seen. The first is a tab's screen or a link's. */
  stack: Place[];
}

type Move =
  | { to: 'push'; place: Place }
  | { to: 'instead'; place: Place }
  | { to: 'back' }
  | { to: 'tab'; screen: string }
  | { to: 'set'; stack: Place[] };

function move(w: Where, m: Move): Where {
  switch (m.to) {
    case 'push': {
      const top = w.stack.at(-1);
      return top?.screen === m.place.screen && top.record === m.place.record
        ? w
        : { stack: [...w.stack, opened(m.place)] };
    }
    case 'instead':
      return { stack: [...w.stack.slice(0, -1), opened(m.place)] };
    case 'back':
      return w.stack.length > 1 ? { stack: w.stack.slice(0, -1) } : w;
    case 'tab':
      // The tab that is seen already stays as it is.
      return w.stack.length === 1 && w.stack[0]!.screen === m.screen && !w.stack[0]!.record
        ? w
        : { stack: [opened({ screen: m.screen, record: null })] };
    case 'set':
      return { stack: m.stack.map(opened) };
  }
}

export const hashOf = (p: Place): string => `#/${p.screen}${p.record ? `/${p.record}` : ''}`;

export function placeOfHash(hash: string): Place | null {
  const m = /^#\/(s_[a-z0-9]+)(?:\/([a-zA-Z0-9_-]+))?$/.exec(hash);
  return m ? { screen: m[1]!, record: m[2] ?? null } : null;
}

/** Where a person is in the app. With `inAddress` the address bar says it too, so that a link opens the same screen. */
export function useNavigation(start: Place, inAddress: boolean, before: string | null = null) {
  const [where, dispatch] = useReducer(move, null, (): Where => {
    // A start screen comes first, and gives way to the first screen.
    if (before) return { stack: [opened({ screen: before, record: null })] };
    const linked = inAddress ? placeOfHash(location.hash) : null;
    if (!linked || linked.screen === start.screen) return { stack: [opened(linked ?? start)] };
    return { stack: [opened(start), opened(linked)] };
  });
  const top = where.stack.at(-1)!;
  const depth = where.stack.length;

  useEffect(() => {
    if (!inAddress) return;
    const hash = hashOf(top);
    if (location.hash !== hash) history.pushState({ depth }, '', hash);
  }, [inAddress, top, depth]);

  useEffect(() => {
    if (!inAddress) return;
    // The browser's own back and forward buttons.
    const onPop = (): void => {
      const p = placeOfHash(location.hash);
      if (!p) return;
      const at = where.stack.findIndex((x) => x.screen === p.screen && x.record === p.record);
      dispatch({ to: 'set', stack: at >= 0 ? where.stack.slice(0, at + 1) : [...where.stack, p] });
    };
    addEventListener('popstate', onPop);
    return () => removeEventListener('popstate', onPop);
  }, [inAddress, where]);

  return {
    where,
    push: useCallback((place: Place) => dispatch({ to: 'push', place }), []),
    instead: useCallback((place: Place) => dispatch({ to: 'instead', place }), []),
    back: useCallback(() => dispatch({ to: 'back' }), []),
    tab: useCallback((screen: string) => dispatch({ to: 'tab', screen }), []),
    set: useCallback((stack: Place[]) => dispatch({ to: 'set', stack }), []),
  };
}
