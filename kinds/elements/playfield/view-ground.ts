import { createContext } from 'react';
import type { Moving } from './motion.ts';

/** A figure on a field, as the field moves it. */
export interface FigureOnField {
  moving: Moving;
  node: HTMLElement;
  /** Which of what can happen to it leads to something. */
  acts: { edge: boolean; meets: boolean };
  happens(what: 'edge' | 'meets'): void;
}

/** The field around a figure. */
export interface Ground {
  /** Height to width. */
  tall: number;
  /** Takes a figure in; gives the way to let it go. */
  join(figure: FigureOnField): () => void;
  /** Draws a figure where it is now. */
  place(figure: FigureOnField): void;
}
export const FieldGround = createContext<Ground | null>(null);
