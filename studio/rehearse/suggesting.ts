import { proxy, wrap } from 'comlink';
import { create } from 'zustand';
import type { Covered } from '../../core/scenes/covered.ts';
import type { Suggested } from '../../core/scenes/suggest.ts';
import { useStudio } from '../state/studio.ts';
import type { ChanceEngine } from './chance-worker.ts';

/** So many tries, each with so many acts at most; each leads to one scene at most. */
const TIMES = 120;
const ACTS = 50;

interface SuggestingState {
  running: boolean;
  tried: number;
  times: number;
  suggested: Suggested[];
  problem: string;
  /** Looks for scenes that come to what none does. */
  suggest(missing: readonly Covered[]): Promise<void>;
  stop(): void;
}

let worker: Worker | null = null;
let turn = 0;

/** The scenes that are proposed for the open app. */
export const useSuggesting = create<SuggestingState>((set, get) => ({
  running: false,
  tried: 0,
  times: TIMES,
  suggested: [],
  problem: '',

  async suggest(missing) {
    get().stop();
    const { app, engine } = useStudio.getState();
    if (!app || !engine) return;
    const mine = ++turn;
    set({ running: true, tried: 0, suggested: [], problem: '' });
    try {
      const states = await engine.states();
      if (mine !== turn) return;
      worker = new Worker(new URL('chance-worker.ts', import.meta.url), { type: 'module' });
      worker.addEventListener('error', (e) => {
        if (mine !== turn) return;
        get().stop();
        set({ problem: `No more scenes are suggested: ${e.message || 'it could not begin.'} Try it again.` });
      });
      const seed = crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1;
      await wrap<ChanceEngine>(worker).suggest(
        { app, states, at: Date.now(), missing, times: TIMES, acts: ACTS, seed },
        proxy((tried: number, suggested: Suggested[]) => {
          if (mine === turn) set({ tried, suggested });
        }),
      );
    } catch (e) {
      if (mine === turn) set({ problem: (e as Error).message });
    } finally {
      if (mine === turn) get().stop();
    }
  },

  stop() {
    turn++;
    worker?.terminate();
    worker = null;
    set({ running: false });
  },
}));

// What was suggested is of the open app.
useStudio.subscribe((now, before) => {
  if (now.kept?.id === before.kept?.id) return;
  useSuggesting.getState().stop();
  useSuggesting.setState({ tried: 0, suggested: [], problem: '' });
});
