import { create } from 'zustand';
import type { PausedRun } from '../engine/events.ts';

interface Stepping {
  /** The run that stands before a step. */
  paused: PausedRun | null;
  /** The steps before which runs stop. */
  stops: readonly string[];
  toggle(step: string): void;
}

/** How runs are looked at while they are under way. It is kept as long as the studio is open. */
export const useStepping = create<Stepping>((set) => ({
  paused: null,
  stops: [],
  toggle: (step) =>
    set(({ stops }) => ({ stops: stops.includes(step) ? stops.filter((s) => s !== step) : [...stops, step] })),
}));
