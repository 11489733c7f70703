import { createContext, useCallback, useContext, useSyncExternalStore, type RefObject } from 'react';
import { hostOf } from '../core/app/elsewhere.ts';
import type { Cell } from '../core/fields/lists.ts';
import type { Knows } from '../core/routines/trigger.ts';
import type { DrawnNode } from '../core/screens/element.ts';
import type { Room } from '../core/phone/walk.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { PageDrafts } from './drafts.ts';
import type { ScreenStore } from './screen-store.ts';

export interface PlayerContextValue {
  api: PhoneApi;
  store: ScreenStore;
  /** How much room there is: a phone, a tablet, a laptop. */
  room: Room;
  /** The one scrolling area of the screen. */
  scroller: RefObject<HTMLDivElement | null>;
  /** An element was tapped, or the row of a list, by its key. */
  tap(key: string, element: string, property?: string, knows?: Knows): void;
  /** A row was dragged before the record of another, or to the end. */
  move(key: string, before: string | null): void;
  look(key: string, change: Record<string, unknown>): void;
  /** Names what is typed in a form on this screen, so that it comes back after a reload. */
  draftOf(form: string): string;
  /** What forms for new records begin with here, by field, besides what their tables say. */
  begins?: Record<string, Cell> | undefined;
  /** What is typed into forms and not saved. */
  drafts: PageDrafts;
  saved(created: boolean, said?: string): void;
  say(words: string, tone?: 'plain' | 'bad'): void;
}

/** The hosts elsewhere that an app may ask; null around what is no app. */
export const HostsContext = createContext<readonly string[] | null>(null);

/** The host of an address that the app around must not ask; null when it may. */
export function useBarred(address: string): string | null {
  const hosts = useContext(HostsContext);
  if (!hosts || /^(data|blob):/i.test(address)) return null;
  const host = hostOf(address);
  return host === null || host === location.host || hosts.includes(host) ? null : host;
}

export const PlayerContext = createContext<PlayerContextValue | null>(null);

export function usePlayer(): PlayerContextValue {
  const value = useContext(PlayerContext);
  if (!value) throw new Error('This part of the player stands outside a Player.');
  return value;
}

/** A drawn node by its key; who uses it renders when that node changes, and only then. */
export function useNode(key: string): DrawnNode | undefined {
  const { store } = usePlayer();
  const hear = useCallback((f: () => void) => store.hearNode(key, f), [store, key]);
  return useSyncExternalStore(hear, () => store.node(key));
}

/** The columns of a grid that count in a room: on a phone, or where it is wide. */
export const columnsIn = (
  e: { columns?: number | undefined; wideColumns?: number | undefined },
  room: Room,
): number | undefined => (room === 'narrow' ? e.columns : e.wideColumns);

/** The form around an input or button: what is typed in it, and how it is saved. */
export interface FormState {
  values: Record<string, Cell>;
  problems: Record<string, string>;
  saving: boolean;
  /** It cannot be saved by whoever uses the app. */
  refused: boolean;
  /** Fields that they may not fill in; without it all may be. */
  closed?: readonly string[] | undefined;
  set(field: string, cell: Cell): void;
  save(): void;
}

export const FormContext = createContext<FormState | null>(null);
export const useForm = (): FormState | null => useContext(FormContext);
