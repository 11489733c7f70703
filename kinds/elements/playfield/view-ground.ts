import { createContext } from 'react';
import type { Moving } from './motion.ts';

/** A sprite on a field, as the field moves it. */
export interface SpriteOnField {
  moving: Moving;
  node: HTMLElement;
  /** Which of what can happen to it leads to something. */
  acts: { edge: boolean; meets: boolean };
  happens(what: 'edge' | 'meets'): void;
}

/** The field around a sprite. */
export interface Ground {
  /** Height to width. */
  tall: number;
  /** Takes a sprite in; gives the way to let it go. */
  join(sprite: SpriteOnField): () => void;
  /** Draws a sprite where it is now. */
  place(sprite: SpriteOnField): void;
}
export const FieldGround = createContext<Ground | null>(null);
