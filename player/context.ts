import { createContext, useContext, type RefObject } from 'react';
import type { Tap } from '../core/app/schema.ts';
import type { ListView } from '../core/screens/draw.ts';
import type { ScopeRef } from '../core/screens/drawn.ts';
import type { PlayerApi } from './api.ts';

export interface PlayerContextValue {
  api: PlayerApi;
  /** The one scrolling area of the screen. */
  scroller: RefObject<HTMLDivElement | null>;
  tap(tap: Tap, scope: ScopeRef[], element: string): void;
  view(list: string, view: ListView): void;
  saved(created: boolean): void;
  say(words: string): void;
}

export const PlayerContext = createContext<PlayerContextValue | null>(null);

export function usePlayer(): PlayerContextValue {
  const value = useContext(PlayerContext);
  if (!value) throw new Error('This part of the player stands outside a Player.');
  return value;
}
