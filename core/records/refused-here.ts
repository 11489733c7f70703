import type { Draft } from './change.ts';
import { Overlay } from './overlay.ts';
import type { Records } from './store.ts';

/** Why changes would be refused here, each as if those before it were made; null where they would not be. */
export function refusedHere(records: Records, drafts: readonly Draft[]): string | null {
  const { may } = records;
  if (!may) return null;
  if (drafts.length === 1) return may.refusal(drafts[0]!);
  return records.batch(() => {
    const trial = new Overlay(records);
    try {
      for (const d of drafts) {
        const refused = may.refusal(d);
        if (refused) return refused;
        trial.lay([d]);
      }
      return null;
    } finally {
      trial.lift();
    }
  });
}
