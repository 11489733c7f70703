import { aOrAn } from '../document/names.ts';
import type { AnyStep } from '../document/meaning.ts';
import type { Program } from './program.ts';
import { frame, type FrameState, type OuterRun, type RunState } from './state.ts';
import { StepError, type Outcome } from './step.ts';
import { keptValue } from '../records/kept-value.ts';

/** So many routines may wait for one another. */
const MOST_DEEP = 50;

/** The steps in a slot of a step; none where it has no such slot. */
const slotOf = (owner: AnyStep | undefined, slot: string): readonly AnyStep[] =>
  ((owner as Record<string, unknown> | undefined)?.[slot] ?? []) as readonly AnyStep[];

function noteIn(program: Program | null, frames: FrameState[]): void {
  let list: readonly AnyStep[] = program?.routine.steps ?? [];
  frames.forEach((f, i) => {
    if (i > 0) list = slotOf(list[frames[i - 1]!.at], f.slot!);
    const step = list[f.at];
    delete f.step;
    delete f.next;
    if (!step) return;
    f.step = step.id;
    if (program?.routine.ifStepGone) f.next = list.slice(f.at + 1).map((s) => s.id);
  });
}

/**
 * Finds the steps of frames in a routine as it is now. Gives the id of a step that is gone, where the run goes on with
 * the next one left; branches of that step are left.
 */
function findIn(program: Program | null, frames: FrameState[]): string | null {
  if (!program) throw new StepError('The routine is not part of the app any more.');
  let list: readonly AnyStep[] = program.routine.steps;
  for (const [i, f] of frames.entries()) {
    if (i > 0) list = slotOf(list[frames[i - 1]!.at], f.slot!);
    if (f.step === undefined ? list[f.at] : list[f.at]?.id === f.step) continue;
    const { step } = f;
    const at = step === undefined ? -1 : list.findIndex((s) => s.id === step);
    if (at < 0) {
      if (step === undefined || !program.routine.ifStepGone)
        throw new StepError(
          `${program.routine.name} was changed while it waited: the step it stood at is not there any more, so it ended.`,
        );
      const left = f.next?.map((id) => list.findIndex((s) => s.id === id)).find((n) => n >= 0);
      f.at = left ?? list.length;
      // Of a list of which it takes one step there is no next.
      if (f.end !== undefined) f.at = f.end = list.length;
      frames.length = i + 1;
      return step;
    }
    if (f.end !== undefined) f.end += at - f.at;
    f.at = at;
  }
  return null;
}

/** Where a run stands: in which list of steps of which branch, and which routines wait for the one that runs. */
export class Stack {
  constructor(
    private readonly state: RunState,
    /** Of the routine that runs. */
    public program: Program,
    private readonly programOf: (routine: string) => Program | null,
  ) {}

  /** The list of steps of the frame at a depth; 1 is the routine's own. */
  listOf(depth: number): readonly AnyStep[] {
    const { frames } = this.state;
    let list = this.program.routine.steps;
    for (let i = 1; i < depth; i++) list = slotOf(list[frames[i - 1]!.at], frames[i]!.slot!);
    return list;
  }

  /** Notes where the run stands by the ids of steps, so that it is found again in a changed routine. */
  note(): void {
    const { frames, outer = [] } = this.state;
    noteIn(this.program, frames);
    for (const o of outer) noteIn(this.programOf(o.routine), o.frames);
  }

  /**
   * Finds the steps where the run stands in the routines as they are now. Gives the id of one that a release has removed,
   * where its routine goes on with the next one left; what was under way in it is over. Throws in words where the run is
   * to end then.
   */
  find(): string | null {
    const { state } = this;
    const { outer = [] } = state;
    for (const [i, o] of outer.entries()) {
      const gone = findIn(this.programOf(o.routine), o.frames);
      if (gone === null) continue;
      const { routine, given, frames, results } = o;
      Object.assign(state, { routine, given, frames, results, outer: outer.slice(0, i) });
      this.program = this.programOf(routine)!;
      return gone;
    }
    return findIn(this.program, state.frames);
  }

  /** The step that the frame at a depth is at. */
  stepAt(depth: number): AnyStep {
    return this.listOf(depth)[this.state.frames[depth - 1]!.at]!;
  }

  /** The step it stands at, in the innermost branch. */
  here(): AnyStep {
    return this.stepAt(this.state.frames.length);
  }

  /** Does no other routine wait for this one, or none that is part of this turn? */
  isOutermost(): boolean {
    const { outer, inside } = this.state;
    return (outer?.length ?? 0) <= (inside?.outer ?? 0);
  }

  /** Is it in the slot that its turn is of? */
  isInTurn(): boolean {
    return this.isOutermost() && this.state.frames.length - 1 === this.state.inside?.frames;
  }

  /** The depth of the first branch that is not part of this turn. */
  outside(): number {
    return this.isOutermost() ? (this.state.inside?.frames ?? 0) : 0;
  }

  /** At its first step, looks whether the routine was given what it needs, and fills in what it was not given. */
  checkGiven(): void {
    const { state, program } = this;
    if (state.frames.length > 1 || state.frames[0]!.at > 0 || state.outer?.length) return;
    this.fillInputs();
    const { given } = program.routine;
    if (!given) return;
    if (state.given && program.records.row(state.given.table, state.given.record)) return;
    const one = program.records.model.tables.get(given)?.table.one ?? 'record';
    throw new StepError(`This routine needs ${aOrAn(one)}, and none was given.`);
  }

  /** Inputs that were given nothing get their first value. */
  private fillInputs(): void {
    const { state, program } = this;
    for (const input of program.routine.inputs ?? []) {
      if (!input.first || (state.results[input.id] ?? null) !== null) continue;
      program.place(state);
      state.results[input.id] = keptValue(program.value(input.first, `What ${input.name} is at first`).value);
    }
  }

  /** Another routine runs; the one that ran it waits. */
  call({ call, record, values = {}, kept }: Extract<Outcome, { call: string }>): void {
    const { state } = this;
    const program = this.programOf(call);
    if (!program) throw new StepError('The routine to run is not chosen yet.');
    if ((state.outer?.length ?? 0) >= MOST_DEEP)
      throw new StepError(`Routines ran one another ${MOST_DEEP} deep, and were stopped in ${program.routine.name}.`);
    const { routine, given, frames, results } = state;
    state.outer = [...(state.outer ?? []), { routine, given, frames, results, kept: kept ?? null }];
    state.routine = call;
    state.given = program.routine.given && record ? { table: program.routine.given, record } : null;
    state.frames = [frame(null)];
    state.results = Object.fromEntries(Object.entries(values).map(([id, v]) => [id, keptValue(v)]));
    this.program = program;
    this.fillInputs();
  }

  /** Back in the routine that waits. */
  intoOuter(): OuterRun {
    const { state } = this;
    const outer = state.outer!.pop()!;
    Object.assign(state, { routine: outer.routine, given: outer.given, frames: outer.frames, results: outer.results });
    const program = this.programOf(outer.routine);
    if (!program) throw new StepError('The routine is not part of the app any more.');
    this.program = program;
    return outer;
  }

  /** The routine that runs has come to its end. */
  end(): void {
    const { frames } = this.state;
    frames.length = 1;
    frames[0]!.at = this.program.routine.steps.length;
  }
}
