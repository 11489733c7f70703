import { proxy, wrap, type Remote } from 'comlink';
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import type { App } from '../../core/app/schema.ts';
import type { RecordState } from '../../core/records/change.ts';
import { useStudio } from '../state/studio.ts';
import type { ChanceEngine } from './chance-worker.ts';

/** Something that is looked for by chance in the open app, in a worker of its own. */
export interface ChanceWork<Found, Given extends unknown[]> {
  running: boolean;
  tried: number;
  times: number;
  found: readonly Found[];
  problem: string;
  /** Begins anew. Resolves when it has ended or was stopped. */
  begin(...given: Given): Promise<void>;
  stop(): void;
}

/** What the work of a worker is begun with. */
interface Begun<Found> {
  app: App;
  states: RecordState[];
  times: number;
  /** By which acts are chosen; another each time. */
  seed: number;
  heard(tried: number, found: Found[]): void;
}

/** A store of what is looked for by chance. `does` asks the worker; `failed` begins the sentence for a worker that ended. */
export function chanceWork<Found, Given extends unknown[]>(
  times: number,
  failed: string,
  does: (engine: Remote<ChanceEngine>, begun: Begun<Found>, ...given: Given) => Promise<void>,
): UseBoundStore<StoreApi<ChanceWork<Found, Given>>> {
  let worker: Worker | null = null;
  let turn = 0;
  const work = create<ChanceWork<Found, Given>>((set, get) => ({
    running: false,
    tried: 0,
    times,
    found: [],
    problem: '',

    async begin(...given) {
      get().stop();
      const { app, engine } = useStudio.getState();
      if (!app || !engine) return;
      const mine = ++turn;
      set({ running: true, tried: 0, found: [], problem: '' });
      try {
        const states = await engine.states();
        if (mine !== turn) return;
        worker = new Worker(new URL('chance-worker.ts', import.meta.url), { type: 'module' });
        worker.addEventListener('error', (e) => {
          if (mine !== turn) return;
          get().stop();
          set({
            problem: `${failed}. ${e.message || 'What it needs could not be loaded: is there a network?'} Try it again.`,
          });
        });
        const heard = proxy((tried: number, found: Found[]) => {
          if (mine === turn) set({ tried, found });
        });
        const seed = crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1;
        await does(wrap<ChanceEngine>(worker), { app, states, times, seed, heard }, ...given);
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
  // What was found is of the open app.
  useStudio.subscribe((now, before) => {
    if (now.kept?.id === before.kept?.id) return;
    work.getState().stop();
    work.setState({ tried: 0, found: [], problem: '' });
  });
  return work;
}
