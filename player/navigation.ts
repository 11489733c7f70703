import type { Cell } from '../core/fields/lists.ts';
import { useCallback, useEffect, useReducer, useRef } from 'react';

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
/** Openings of an earlier load of the page may still be in the history. */
const load = Math.random().toString(36).slice(2, 7);
const opened = (place: Place): Place => (place.opening ? place : { ...place, opening: `o${load}${++openings}` });

export interface Where {
  /** The screens opened one upon the other; the last is seen. The first is a tab's screen or a link's. */
  stack: Place[];
}

type Move =
  | { to: 'push'; place: Place }
  | { to: 'instead'; place: Place }
  | { to: 'back' }
  | { to: 'tab'; screen: string }
  | { to: 'set'; stack: Place[] }
  /** What a browser's history says, by its own buttons. */
  | { to: 'history'; stack: Place[] };

/** Where somebody is, and how they came there. */
interface Moved extends Where {
  by: Move['to'] | null;
}

function move(w: Moved, m: Move): Moved {
  switch (m.to) {
    case 'push': {
      const top = w.stack.at(-1);
      return top?.screen === m.place.screen && top.record === m.place.record
        ? w
        : { stack: [...w.stack, opened(m.place)], by: m.to };
    }
    case 'instead':
      return { stack: [...w.stack.slice(0, -1), opened(m.place)], by: m.to };
    case 'back':
      return w.stack.length > 1 ? { stack: w.stack.slice(0, -1), by: m.to } : w;
    case 'tab':
      // The tab that is seen already stays as it is.
      return w.stack.length === 1 && w.stack[0]!.screen === m.screen && !w.stack[0]!.record
        ? w
        : { stack: [opened({ screen: m.screen, record: null })], by: m.to };
    case 'set':
    case 'history':
      return { stack: m.stack.map(opened), by: m.to };
  }
}

export const hashOf = (p: Place): string => `#/${p.screen}${p.record ? `/${p.record}` : ''}`;

export function placeOfHash(hash: string): Place | null {
  const m = /^#\/(s_[a-z0-9]+)(?:\/([a-zA-Z0-9_-]+))?$/.exec(hash);
  return m ? { screen: m[1]!, record: m[2] ?? null } : null;
}

/** What the browser's history keeps of one place in it: the screens that are open there. A reload finds it again. */
interface Entry {
  /** Counts the entries of this visit. */
  at: number;
  stack: Place[];
  /** The screens of the entry before it; null for the first. */
  below: string | null;
}

const nameOf = (stack: readonly Place[]): string => stack.map((p) => `${hashOf(p)} ${p.sheet ?? ''}`).join('\n');

/** What stands in a history, when it is ours and fits the address. */
export function entryOf(state: unknown, hash: string): Entry | null {
  const { at, stack, below = null } = (state ?? {}) as Partial<Entry>;
  if (typeof at !== 'number' || !Array.isArray(stack) || stack.length === 0) return null;
  const isPlace = (p: Place | null): boolean => typeof p?.screen === 'string' && placeOfHash(hashOf(p)) !== null;
  return stack.every(isPlace) && hashOf(stack.at(-1)!) === hash ? { at, stack, below } : null;
}

/** What is asked before somebody leaves where they are. */
export interface Leaving {
  /** Would something that was typed be thrown away? */
  isDirty(): boolean;
  /** Asks, and goes when that is wanted. */
  ask(go: () => void): void;
}
const FREE: Leaving = { isDirty: () => false, ask: (go) => go() };

/** Where a person is in the app. With `inAddress` the address bar says it too, so that a link opens the same screen. */
export function useNavigation(start: Place, inAddress: boolean, before: string | null = null, leaving: Leaving = FREE) {
  const [where, dispatch] = useReducer(move, null, (): Moved => {
    const stack = ((): Place[] => {
      const kept = inAddress ? entryOf(history.state, location.hash) : null;
      if (kept) return kept.stack.map(opened);
      // A start screen comes first, and gives way to the first screen.
      if (before) return [opened({ screen: before, record: null })];
      const linked = inAddress ? placeOfHash(location.hash) : null;
      if (!linked || linked.screen === start.screen) return [opened(linked ?? start)];
      return [opened(start), opened(linked)];
    })();
    return { stack, by: null };
  });
  const { stack } = where;
  const now = useRef<Entry | null>(null);

  useEffect(() => {
    if (!inAddress) return;
    const hash = hashOf(stack.at(-1)!);
    const entry = now.current;
    if (!entry || where.by === 'history') {
      // What is here already stays, with the openings of now.
      const kept = entryOf(history.state, location.hash);
      now.current = { at: kept?.at ?? entry?.at ?? 0, below: kept?.below ?? null, stack };
      history.replaceState(now.current, '', hash);
    } else if (entry.stack !== stack) {
      const isNew = where.by === 'push' || where.by === 'tab';
      now.current = isNew ? { at: entry.at + 1, stack, below: nameOf(entry.stack) } : { ...entry, stack };
      if (isNew) history.pushState(now.current, '', hash);
      else history.replaceState(now.current, '', hash);
    }
  }, [inAddress, where, stack]);

  const asks = useRef(leaving);
  useEffect(() => {
    asks.current = leaving;
  });
  useEffect(() => {
    if (!inAddress) return;
    /** The history is put back to where the app still is. */
    let returning = false;
    const onPop = (e: PopStateEvent): void => {
      if (returning) {
        returning = false;
        return;
      }
      const entry = entryOf(e.state, location.hash);
      const linked = placeOfHash(location.hash);
      const here = now.current!;
      const to = entry?.stack ?? (linked && [...here.stack, linked]);
      if (!to) return;
      const steps = entry ? here.at - entry.at : 0;
      if (steps !== 0 && asks.current.isDirty()) {
        returning = true;
        history.go(steps);
        asks.current.ask(() => history.go(-steps));
        return;
      }
      if (entry) now.current = entry;
      dispatch({ to: 'history', stack: to });
    };
    addEventListener('popstate', onPop);
    return () => removeEventListener('popstate', onPop);
  }, [inAddress]);

  const back = useCallback(() => {
    const entry = now.current;
    // Where the entry before is where back leads, the browser goes there too: its own button then goes further back.
    if (inAddress && entry && entry.stack.length > 1 && entry.below === nameOf(entry.stack.slice(0, -1)))
      history.back();
    else dispatch({ to: 'back' });
  }, [inAddress]);

  return {
    where: where as Where,
    back,
    push: useCallback((place: Place) => dispatch({ to: 'push', place }), []),
    instead: useCallback((place: Place) => dispatch({ to: 'instead', place }), []),
    tab: useCallback((screen: string) => dispatch({ to: 'tab', screen }), []),
    set: useCallback((stack: Place[]) => dispatch({ to: 'set', stack }), []),
  };
}
