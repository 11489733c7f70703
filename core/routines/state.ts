import type { Answer, RunAsk } from './asks.ts';
import type { Draft } from '../records/change.ts';
import type { Json } from './step.ts';
import type { KeptValue } from '../records/kept-value.ts';

/** A list of steps that a run is in, and where in it. */
export interface FrameState {
  /** The slot of the step outside it; null for the routine's own steps. */
  slot: string | null;
  /** The place in the list of the step it is at, as long as the list is the same. */
  at: number;
  /** That step, by its id, while the run waits: a release may move it to another place, or remove it. */
  step?: string;
  /** The steps behind it, while the run waits, where it is to go on with the next one left. */
  next?: string[];
  /** How often the slot was entered before. */
  turn: number;
  /** What the step outside keeps while it is in its slot. */
  kept: Json;
  /** The step outside began to gather what is written. */
  gathers: boolean;
  /** Where the frame ends, when that is before the end of its list. */
  end?: number;
  /** So much had been gathered when a group began here: what came after is dropped with it. */
  gatheredBefore?: number;
}

/** A routine that waits for another it has run. */
export interface OuterRun {
  routine: string;
  given: RunState['given'];
  frames: FrameState[];
  results: RunState['results'];
  /** What the step that ran the other keeps meanwhile. */
  kept: Json;
}

/**
 * A run of a routine, whole: plain data that can be put away at any ask and taken up again elsewhere. Records are
 * named by table and id and looked up at each use.
 */
export interface RunState {
  id: string;
  routine: string;
  /** The release of the app the run belongs to; 0 in the studio. */
  release: number;
  given: { table: string; record: string } | null;
  frames: FrameState[];
  /** Results of steps, by their ids. */
  results: Record<string, KeptValue>;
  /** Set while an ask waits for its answer. */
  asking: {
    kept: Json;
    said: string;
    gave: string;
    /** When the step began, as `performance.now()` told it. */
    began: number;
    /** The message that is on its way. */
    sent?: { to: string[]; subject: string; body: string };
  } | null;
  /** Changes that wait to be sent together. */
  gathered: Draft[] | null;
  /** Routines that wait for the one that runs, the first of them first. */
  outer?: OuterRun[];
  /** What the routine that runs gives back. */
  back?: KeptValue;
  /** How often steps that failed have been tried again, by their ids. */
  tries?: Record<string, number>;
  /** All that the run writes is sent as one at its end; then it has been sent. */
  whole?: 'gathers' | 'sent';
  /** How many more steps it may take. */
  budget: number;
  /** How many turns its loops have taken. */
  turns?: number;
  /** How often it has asked the world; each ask is known by its number. */
  asks?: number;
  ended: { error?: string; sort?: string } | null;
  /** The step it stands before, when somebody looks at it step by step. */
  paused?: string;
  /** Set while turns of the step it is at are under way at once. */
  several?: Several;
  /** Set in such a turn: where the run outside it stands. It ends where it comes back there. */
  inside?: { frames: number; outer: number };
}

/**
 * Turns that are under way at once. They go on together: each up to its next ask, then all asks are answered, then each
 * again. So a run gives the same whichever answer comes first.
 */
export interface Several {
  slot: string;
  /** What the step keeps since the turn begun last, for the next. */
  kept: Json;
  /** At most so many at once. */
  most: number;
  /** How many have begun. */
  begun: number;
  strands: Strand[];
  /** What the step says when all have ended, once there are no more to begin. */
  did: { said: string; gave: string } | null;
  /** The latest turn that has ended: its results are those that stand. */
  last: number;
}

/** One turn of several: a run within the run. */
export interface Strand {
  turn: number;
  state: RunState;
  ask: RunAsk | null;
  answer: Answer | null;
}

/** What a step gave, where it can be shown as itself: a file by its address, the first of a list, a message. */
export type Shown = { file: string } | { list: string[]; of: number } | { to: string[]; subject: string; body: string };

/** What one step got and gave. */
export interface StepTrace {
  step: string;
  /** The steps it stands in, from outside, and itself; `turns` counts how often each slot had been entered before. */
  path: string[];
  turns: number[];
  /** In words with the values that were at hand: "Set Bramble 3 › Welcomed on to Mon 23 Nov 2026". */
  said: string;
  /** The result in a word or two. */
  gave: string;
  /** Milliseconds. */
  ms: number;
  error?: string;
  shows?: Shown;
  /** Of a step in a routine that another runs: which routine, and how many wait for it. */
  within?: string;
  deep?: number;
  /** It stands for so many steps that are not listed. */
  leftOut?: number;
}

/** The steps a run may take before it is stopped, and the turns of its loops. */
export const STEP_BUDGET = 100_000;
export const TURN_BUDGET = 200_000;

/** How far a run got: what it asks next, or nothing when it has ended, and the steps that were done on the way. */
export interface Advanced {
  state: RunState;
  ask: RunAsk | null;
  did: StepTrace[];
}

/** A list of steps at its beginning. */
export const frame = (slot: string | null, kept: FrameState['kept'] = null, turn = 0, gathers = false): FrameState => ({
  slot,
  at: 0,
  turn,
  kept,
  gathers,
});

/** A copy that can be advanced while the one before stays as it is. */
export const copied = (s: RunState): RunState => ({
  ...s,
  frames: s.frames.map((f) => ({ ...f })),
  results: { ...s.results },
  gathered: s.gathered && [...s.gathered],
  ...(s.outer && { outer: s.outer.map((o) => ({ ...o, frames: o.frames.map((f) => ({ ...f })) })) }),
  ...(s.tries && { tries: { ...s.tries } }),
  ...(s.several && {
    several: { ...s.several, strands: s.several.strands.map((t) => ({ ...t, state: copied(t.state) })) },
  }),
});
