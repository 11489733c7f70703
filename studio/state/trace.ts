import { create } from 'zustand';
import type { RunTrace } from '../../core/routines/run.ts';
import type { Happened } from '../../core/session/effects.ts';

export interface TraceEntry extends Happened {
  key: number;
  at: Date;
}

/** A run that has ended, and when. */
export interface PastRun {
  key: number;
  at: Date;
  run: RunTrace;
}

interface TraceState {
  trace: TraceEntry[];
  /** The latest runs of every routine, newest first, for the values beside its steps. */
  runs: Record<string, PastRun[]>;
  runCounts: Record<string, { runs: number; failed: number }>;
  say(what: Happened): void;
  /** Shows a run beside the steps of its routine, also one that is no news. */
  show(run: RunTrace, at: Date): void;
  clear(): void;
}

const KEPT = 200;
const KEPT_RUNS = 30;
let key = 0;

/** What has happened in the open app, newest last. */
export const useTrace = create<TraceState>((set) => ({
  trace: [],
  runs: {},
  runCounts: {},
  say(what) {
    set((s) => {
      const trace = [...s.trace, { ...what, key: ++key, at: new Date() }].slice(-KEPT);
      if (!what.run) return { trace };
      const id = what.run.routine;
      const count = s.runCounts[id] ?? { runs: 0, failed: 0 };
      const failed = count.failed + (what.run.error === undefined ? 0 : 1);
      return {
        trace,
        runs: { ...s.runs, [id]: [{ key, at: new Date(), run: what.run }, ...(s.runs[id] ?? [])].slice(0, KEPT_RUNS) },
        runCounts: { ...s.runCounts, [id]: { runs: count.runs + 1, failed } },
      };
    });
  },
  show(run, at) {
    set((s) => {
      const others = (s.runs[run.routine] ?? []).filter((p) => p.at.getTime() !== at.getTime());
      return { runs: { ...s.runs, [run.routine]: [{ key: ++key, at, run }, ...others].slice(0, KEPT_RUNS) } };
    });
  },
  clear: () => set({ trace: [], runs: {}, runCounts: {} }),
}));

/** Writes a line into the trace. */
export const say = (what: Happened): void => useTrace.getState().say(what);
