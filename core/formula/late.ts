import type { Value } from './values.ts';

/** What few formulas use; phones fetch it for apps that do (`rare-functions.ts`). */
export const late: {
  instanceOf: (v: Value, type: string) => boolean;
  /** The known name closest to a misspelt one: for those who write formulas. */
  nearest(name: string, known: readonly string[]): string | null;
} = {
  instanceOf: () => {
    throw new Error('What “instance of” needs is not loaded.');
  },
  nearest: () => null,
};
