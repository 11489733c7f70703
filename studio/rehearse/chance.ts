import { proxy, wrap } from 'comlink';
import { create } from 'zustand';
import { peopleTable } from '../../core/app/people.ts';
import type { Persona } from '../../core/rehearsal/cast.ts';
import type { ShakeFound } from '../../core/scenes/shake.ts';
import { useStudio } from '../state/studio.ts';
import type { ChanceEngine } from './chance-worker.ts';

/** So many tries, each with so many acts at most; and records of each table. */
const TIMES = 80;
const ACTS = 60;

interface ChanceState {
  running: boolean;
  tried: number;
  times: number;
  found: ShakeFound[];
  problem: string;
  shake(): Promise<void>;
  stop(): void;
}

let worker: Worker | null = null;
let turn = 0;

/** What chance found in the open app. */
export const useChance = create<ChanceState>((set, get) => ({
  running: false,
  tried: 0,
  times: TIMES,
  found: [],
  problem: '',

  async shake() {
    get().stop();
    const { app, engine } = useStudio.getState();
    if (!app || !engine) return;
    const mine = ++turn;
    set({ running: true, tried: 0, found: [], problem: '' });
    try {
      const states = await engine.states();
      const people = peopleTable(app)?.id;
      const two = states.filter((s) => s.table === people).slice(0, 2);
      const cast: Persona[] = two.map((s) => ({ is: 'person', record: s.id }));
      if (cast.length === 0) cast.push({ is: 'nobody' }, { is: 'nobody' });
      worker = new Worker(new URL('chance-worker.ts', import.meta.url), { type: 'module' });
      worker.addEventListener('error', (e) => {
        if (mine !== turn) return;
        get().stop();
        set({ problem: `Chance has stopped: ${e.message || 'it could not begin.'} Shake it again.` });
      });
      const chance = wrap<ChanceEngine>(worker);
      const seed = crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1;
      await chance.shake(
        { app, states, cast, at: Date.now(), times: TIMES, acts: ACTS, seed },
        proxy((tried: number, found: ShakeFound[]) => {
          if (mine === turn) set({ tried, found });
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

// What was found is of the open app.
useStudio.subscribe((now, before) => {
  if (now.kept?.id === before.kept?.id) return;
  useChance.getState().stop();
  useChance.setState({ tried: 0, found: [], problem: '' });
});
