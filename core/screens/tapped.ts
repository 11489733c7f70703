import type { Tap } from '../document/pieces.ts';

/** What the page needs to know of a tap: nothing to press, the form around is saved, or the engine hears of it. */
export type Tapped = 'nothing' | 'save' | 'act';

export const tapped = (tap: Tap | undefined): Tapped =>
  !tap || tap.do === 'nothing' ? 'nothing' : tap.do === 'save' ? 'save' : 'act';
