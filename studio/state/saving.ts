import { create } from 'zustand';
import { keptSteps, type Step } from './kept-steps.ts';
import { leaveUnwritten, registry, type KeptApp } from './registry.ts';

interface Saving {
  /** Everything that was changed is written down. */
  saved: boolean;
  /** What could not be done, in words; shown until it is closed. */
  problem: string | null;
}

/** Whether the document is kept, and what went wrong when it is not. */
export const useSaving = create<Saving>(() => ({ saved: true, problem: null }));
export const tellProblem = (problem: string | null): void => useSaving.setState({ problem });

let newest: KeptApp | null = null;
/** The document that was written last: steps that change records alone leave it as it is. */
let written: KeptApp | null = null;
let stepsNow = (): { past: Step[]; future: Step[] } => ({ past: [], future: [] });
/** Says where the steps are that lead to the document; they are kept with it. */
export const keepStepsOf = (now: typeof stepsNow): void => void (stepsNow = now);
let writing: Promise<void> | null = null;

/** So long, in milliseconds, a document is not written yet: what was changed is drawn first, and keys come together. */
const A_MOMENT = 40;

/** Keeps the newest document; while one is being written, later ones wait and only the last is written. */
export function keepDocument(kept: KeptApp): Promise<void> {
  newest = kept;
  useSaving.setState({ saved: false });
  writing ??= (async () => {
    try {
      let last: KeptApp | null = null;
      do {
        await new Promise((go) => {
          setTimeout(go, A_MOMENT);
        });
        last = newest;
        if (last) await write(last);
      } while (last !== newest);
    } finally {
      writing = null;
    }
  })();
  return writing;
}

/** An app is closed: what still waits is written at once, and nothing of it after that. */
export function lastSave(): void {
  const last = useSaving.getState().saved ? null : newest;
  newest = null;
  useSaving.setState({ saved: true, problem: null });
  if (last) void write(last);
}

const isFull = (e: Error & { inner?: Error }): boolean => /quota/i.test(`${e.name} ${e.inner?.name ?? ''}`);

async function write(kept: KeptApp): Promise<void> {
  try {
    // Both or none: steps that do not fit the document would bend it.
    const steps = keptSteps(kept, stepsNow());
    await registry
      .transaction('rw', registry.apps, registry.steps, async () => {
        if (kept !== written) await registry.apps.put(kept);
        await registry.steps.put(steps);
      })
      .catch(async (e: Error) => {
        // What could be undone gives room to the document, that of other apps only where there is none left.
        await (isFull(e) ? registry.steps.clear() : registry.steps.delete(kept.id));
        await registry.apps.put(kept);
      });
    written = kept;
    if (newest === kept) useSaving.setState({ saved: true });
  } catch (e) {
    tellProblem(
      isFull(e as Error)
        ? 'This browser’s storage is full, so the last change is not kept. Export the app, free some space, then try again.'
        : `The last change could not be kept: ${(e as Error).message}`,
    );
  }
}

// A tab that is closed while a change is still being written leaves it in a place that is written at once.
addEventListener('pagehide', () => {
  if (newest && !useSaving.getState().saved) leaveUnwritten(newest, keptSteps(newest, stepsNow()));
});
