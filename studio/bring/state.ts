import { proxy, wrap, type Remote } from 'comlink';
import { create } from 'zustand';
import type { Review } from './review.ts';
import type { BringWorker } from './worker.ts';

/** Changes what was read, in the thread that holds it. */
export type Change = (work: (w: Remote<BringWorker>) => Promise<Review>) => Promise<void>;

interface BringState {
  worker: Remote<BringWorker> | null;
  review: Review | null;
  reading: string | null;
  problems: string[];
  add(files: File[]): Promise<void>;
  change: Change;
  make(name: string, progress: (kept: number, all: number) => void): Promise<string>;
  clear(): void;
}

let thread: Worker | null = null;

/** The files that are being brought in, between choosing them and having an app. */
export const useBring = create<BringState>((set, get) => ({
  worker: null,
  review: null,
  reading: null,
  problems: [],

  async add(files) {
    let { worker } = get();
    if (!worker) {
      thread = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
      worker = wrap<BringWorker>(thread);
      set({ worker });
    }
    for (const file of files) {
      set({ reading: file.name });
      try {
        // The worker says no to large files itself, but they need not be read for that.
        const bytes = file.size > 52 * 1024 * 1024 ? null : new Uint8Array(await file.arrayBuffer());
        set({ review: await worker.add(file.name, bytes, file.size) });
      } catch (e) {
        set((s) => ({ problems: [...s.problems, (e as Error).message] }));
      }
    }
    set({ reading: null });
  },

  async change(work) {
    const { worker } = get();
    if (worker) set({ review: await work(worker) });
  },

  async make(name, progress) {
    return get().worker!.make(name, proxy(progress));
  },

  clear() {
    thread?.terminate();
    thread = null;
    set({ worker: null, review: null, reading: null, problems: [] });
  },
}));
