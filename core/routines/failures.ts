import type { Gathering } from './gathering.ts';
import type { Stack } from './stack.ts';
import { frame, type RunState } from './state.ts';

/** The slot of any step that holds what happens when it fails. */
export const IF_FAILS = 'ifFails';

/** What happens when a step of a run fails: it is tried again, or the maker has said what then, or the run ends. */
export class Failures {
  constructor(
    private readonly state: RunState,
    private readonly stack: Stack,
    private readonly gathering: Gathering,
  ) {}

  /**
   * Goes on after a failure where the maker said how: the step itself, or the nearest that it stands in, is tried again
   * or does what it says for “If it fails”. What was gathered inside of it is dropped. False when nothing was said.
   */
  caught(reason: string, sort: string): boolean {
    const { state } = this;
    for (;;) {
      const outside = this.stack.outside();
      for (let depth = state.frames.length; depth > outside; depth--) {
        const owner = this.stack.listOf(depth)[state.frames[depth - 1]!.at];
        // What fails while a failure is dealt with is not dealt with in the same way again.
        if (!owner || state.frames[depth]?.slot === IF_FAILS) continue;
        const tries = state.tries?.[owner.id] ?? 0;
        if (tries < (owner.again ?? 0)) {
          this.forgetTries(depth);
          this.unwind(depth);
          state.tries = { ...state.tries, [owner.id]: tries + 1 };
          return true;
        }
        if (!owner.ifFails) continue;
        this.forgetTries(depth - 1);
        this.unwind(depth);
        if (owner.reason) state.results[owner.reason] = reason;
        if (owner.sort) state.results[owner.sort] = sort;
        state.frames.push(frame(IF_FAILS));
        return true;
      }
      if (this.stack.isOutermost()) return false;
      this.forgetTries(0);
      if (state.frames.some((f) => f.gatheredBefore !== undefined)) this.unwind(1);
      this.stack.intoOuter();
    }
  }

  /** The steps below a depth that the run stands at are given up: when they come again, they have all their tries. */
  private forgetTries(depth: number): void {
    const { tries, frames } = this.state;
    if (!tries) return;
    for (let d = depth + 1; d <= frames.length; d++) {
      const step = this.stack.listOf(d)[frames[d - 1]!.at];
      if (step) delete tries[step.id];
    }
  }

  /** Leaves the branches inside a step, with what was gathered there. */
  private unwind(depth: number): void {
    const { state } = this;
    const left = state.frames.splice(depth);
    const first = left.find((f) => f.gatheredBefore !== undefined);
    if (!first || !state.gathered) return;
    this.gathering.cutTo(first.gathers ? null : first.gatheredBefore!);
  }
}
