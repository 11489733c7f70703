import type { Answer } from '../routines/asks.ts';
import type { Actions } from '../session/actions.ts';
import type { PhoneStore } from './keeps.ts';

/** What a phone has heard for whoever uses it. */
export interface Ears {
  readonly store: PhoneStore;
  readonly records: { readonly person: string | null };
  /** When the last notice came, as the host's clock had it; empty for never. */
  heardAt: string;
  /** What was said last of devices that are used by the same person. */
  devicesSaid: string;
  /** By this secret the host knows the device again. */
  readonly ear: string;
  say(words: string): void;
  /** Puts away what was asked on the page. */
  answered(id: string, answer: Answer): Promise<void>;
  actions(): Promise<Actions>;
}
