import type { Answer, RunAsk } from './asks.ts';
import { copied, frame, type Advanced, type RunState, type Several, type Strand } from './state.ts';
import type { Did, Json } from './step.ts';

/** What turns that are under way at once need of the run around them. */
export interface Around {
  readonly state: RunState;
  /** The step's next turn, kept and told; or what it says at the end. */
  next(kept: Json): { kept: Json } | { did: Did };
  /** Advances a turn as far as it goes. */
  advance(state: RunState, answer: Answer | null): Advanced;
}

/** How far the turns got. */
export type Went =
  /** Every one that is under way waits for an answer. */
  | { asks: RunAsk }
  /** Somebody looks before one of them goes on. */
  | { paused: string }
  /** All have ended. */
  | { did: { said: string; gave: string } }
  | { failed: string; sort: string }
  /** A step in a turn ended the routine. */
  | { stopped: true };

/** Turns at once, none of them begun; `kept` is what the step keeps of its first. */
export const severalTurns = (slot: string, kept: Json, most: number): Several => ({
  slot,
  kept,
  most,
  begun: 0,
  strands: [],
  did: null,
  last: -1,
});

/**
 * Goes on with the turns: each up to its next ask; where one ends, the next begins. When one fails or ends the routine,
 * those that are under way end where they are.
 */
export function goOn(around: Around, answer: Answer | null): Went {
  const several = around.state.several!;
  if (answer) {
    const each = answer.ok ? (answer.each ?? []) : [];
    several.strands.forEach((s, i) => {
      s.answer = each[i] ?? (answer.ok ? { ok: false, reason: 'Nothing was answered.' } : answer);
    });
  }
  for (;;) {
    for (const strand of several.strands.filter((s) => !s.ask || s.answer)) {
      const went = goOnWith(around, several, strand);
      if (went) return went;
    }
    if (several.did || several.strands.length >= several.most) break;
    begin(around, several);
  }
  if (several.did && several.strands.length === 0) return { did: several.did };
  return {
    asks: {
      ask: 'several',
      asks: several.strands.map((s) => s.ask!),
      answers: several.strands.map(() => null),
    },
  };
}

/** Begins the next turn; the first was found when the step began. */
function begin(around: Around, several: Several): void {
  const { state } = around;
  if (several.begun > 0) {
    const next = around.next(several.kept);
    if ('did' in next) {
      several.did = { said: next.did.said, gave: next.did.gave };
      return;
    }
    several.kept = next.kept;
  }
  const turn = several.begun++;
  const { several: _all, tries: _tries, ...own } = state;
  several.strands.push({
    turn,
    state: copied({
      ...own,
      frames: [...state.frames, frame(several.slot, several.kept, turn)],
      inside: { frames: state.frames.length, outer: state.outer?.length ?? 0 },
    }),
    ask: null,
    answer: null,
  });
}

function goOnWith(around: Around, several: Several, strand: Strand): Went | null {
  const { state } = around;
  const next = around.advance(
    { ...strand.state, budget: state.budget, ...(state.turns !== undefined && { turns: state.turns }) },
    strand.answer,
  );
  state.budget = next.state.budget;
  if (next.state.turns !== undefined) state.turns = next.state.turns;
  Object.assign(strand, { state: next.state, ask: next.ask, answer: null });
  if (next.state.paused) return { paused: next.state.paused };
  if (next.ask) return null;
  several.strands.splice(several.strands.indexOf(strand), 1);
  if (next.state.ended?.error !== undefined) {
    const { error, sort = 'other' } = next.state.ended;
    return { failed: error, sort };
  }
  if (next.state.frames.length <= next.state.inside!.frames) {
    if (next.state.back !== undefined) state.back = next.state.back;
    return { stopped: true };
  }
  if (strand.turn > several.last) {
    several.last = strand.turn;
    Object.assign(state.results, next.state.results);
  }
  return null;
}
