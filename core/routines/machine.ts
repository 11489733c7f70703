import { aOrAn } from '../document/names.ts';
import type { AnyStep } from '../document/meaning.ts';
import { completed } from '../records/begin.ts';
import type { Draft } from '../records/change.ts';
import { MOST_LETTERS_TOGETHER, MOST_TOGETHER } from '../document/limits.ts';
import { lettersOf } from '../fields/lists.ts';
import { Overlay } from '../records/overlay.ts';
import type { Records } from '../records/store.ts';
import { walkSteps } from '../document/walk.ts';
import type { Answer, Ask } from './asks.ts';
import { Program, type RoutineDoc, type RunWorld } from './program.ts';
import type { FrameState, RunState, StepTrace } from './state.ts';
import { StepError, type AnyStepDefinition, type Did, type Outcome, type StepKinds, type StepScope } from './step.ts';
import { keptValue } from './values.ts';

/** The steps a run may take before it is stopped. */
export const STEP_BUDGET = 100_000;

/** How far a run got: what it asks next, or nothing when it has ended, and the steps that were done on the way. */
export interface Advanced {
  state: RunState;
  ask: Ask | null;
  did: StepTrace[];
}

/** The routines of a document and what their steps may name. */
export interface RoutinesDoc {
  readonly routines: readonly RoutineDoc[];
  readonly screens: StepScope['screens'];
}

/**
 * Runs routines, from one ask of the world to the next. It waits for nothing and changes nothing but the state it
 * gives back, so a run can be stopped at any ask and go on later, elsewhere, to the same end.
 * Make a new one for a changed document; formulas are compiled once in each.
 */
export class Machine {
  private readonly programs = new Map<string, Program>();

  constructor(
    private readonly doc: RoutinesDoc,
    private readonly records: Records,
    private readonly kinds: StepKinds,
    private readonly world: RunWorld,
  ) {}

  /** A run at its beginning. */
  begin(routine: RoutineDoc, record: string | null, release = 0): RunState {
    return {
      id: this.world.newId(),
      routine: routine.id,
      release,
      given: routine.given && record ? { table: routine.given, record } : null,
      frames: [frame(null)],
      results: {},
      asking: null,
      gathered: null,
      budget: STEP_BUDGET,
      ended: null,
    };
  }

  /** Has the routine steps at which its run may outlive the page? */
  lasts(routine: RoutineDoc): boolean {
    let lasts = false;
    walkSteps(routine.steps, (s) => {
      lasts ||= this.kinds.get(s.do)?.lasts ?? false;
    });
    return lasts;
  }

  /**
   * Goes on to the next ask, or to the end. `answer` is to the ask before. A step that fails ends the run with its
   * reason; what was gathered to be written together is then not written.
   */
  advance(before: RunState, answer: Answer | null = null): Advanced {
    const state: RunState = {
      ...before,
      frames: before.frames.map((f) => ({ ...f })),
      results: { ...before.results },
      gathered: before.gathered && [...before.gathered],
    };
    const program = this.program(state);
    if (!program) return ended(state, 'The routine is not part of the app any more.');
    if (state.ended) return { state, ask: null, did: [] };
    return this.records.batch(() => new Advance(state, program, this.kinds, this.records).go(answer));
  }

  private program(state: RunState): Program | null {
    const known = this.programs.get(state.routine);
    if (known) return known;
    const routine = this.doc.routines.find((r) => r.id === state.routine);
    if (!routine) return null;
    const made = new Program(this.kinds, this.records, routine, this.doc.screens, this.world);
    this.programs.set(routine.id, made);
    return made;
  }
}

const frame = (slot: string | null, kept: FrameState['kept'] = null, turn = 0, gathers = false): FrameState => ({
  slot,
  at: 0,
  turn,
  kept,
  gathers,
});

const ended = (state: RunState, error?: string): Advanced => ({
  state: { ...state, asking: null, gathered: null, ended: error === undefined ? {} : { error } },
  ask: null,
  did: [],
});

/** One advance of one run. */
const lettersIn = (drafts: readonly Draft[]): number =>
  drafts.reduce((n, d) => n + (d.do === 'set' ? lettersOf(d.cells) : 0), 0);

class Advance {
  private readonly did: StepTrace[] = [];
  private readonly overlay: Overlay;
  /** In what was gathered. */
  private letters = 0;
  private started = performance.now();

  constructor(
    private readonly state: RunState,
    private readonly program: Program,
    private readonly kinds: StepKinds,
    private readonly records: Records,
  ) {
    this.overlay = new Overlay(records);
  }

  go(answer: Answer | null): Advanced {
    const { state } = this;
    if (state.gathered) {
      this.overlay.lay(state.gathered);
      this.letters = lettersIn(state.gathered);
    }
    try {
      const ask = this.run(answer);
      if (ask) return { state, ask, did: this.did };
      return { ...ended(state), did: this.did };
    } catch (e) {
      return { ...ended(state, (e as Error).message), did: this.did };
    } finally {
      this.overlay.lift();
    }
  }

  private run(answer: Answer | null): Ask | null {
    const { state } = this;
    if (state.asking) {
      if (!answer) throw new Error('The run waits for an answer.');
      const ask = this.resume(answer);
      if (ask) return ask;
    } else this.checkGiven();
    for (;;) {
      const top = state.frames.at(-1)!;
      const step = this.listOf(state.frames.length)[top.at];
      if (step) {
        const ask = this.take(step);
        if (ask) return ask;
      } else if (top.slot === null) return null;
      else {
        const ask = this.leave(top);
        if (ask) return ask;
      }
    }
  }

  private checkGiven(): void {
    const { routine } = this.program;
    const { state } = this;
    if (!routine.given || state.frames.length > 1 || state.frames[0]!.at > 0) return;
    if (state.given && this.records.row(state.given.table, state.given.record)) return;
    const one = this.records.model.tables.get(routine.given)?.table.one ?? 'record';
    throw new StepError(`This routine needs ${aOrAn(one)}, and none was given.`);
  }

  /** The list of steps of the frame at a depth; 1 is the routine's own. */
  private listOf(depth: number): readonly AnyStep[] {
    let list = this.program.routine.steps;
    for (let i = 1; i < depth; i++) {
      const owner = list[this.state.frames[i - 1]!.at] as Record<string, unknown> | undefined;
      list = (owner?.[this.state.frames[i]!.slot!] ?? []) as readonly AnyStep[];
    }
    return list;
  }

  private stepAt(depth: number): AnyStep {
    return this.listOf(depth)[this.state.frames[depth - 1]!.at]!;
  }

  private take(step: AnyStep): Ask | null {
    if (this.state.budget-- <= 0)
      throw new StepError(`The routine was stopped after ${STEP_BUDGET.toLocaleString('en-GB')} steps.`);
    this.started = performance.now();
    return this.follow(step, (definition) => definition.start(step, this.program));
  }

  /** The answer to an ask has come: goes on with the step that asked. */
  private resume(answer: Answer): Ask | null {
    const step = this.stepAt(this.state.frames.length);
    const { asking } = this.state;
    this.state.asking = null;
    // After a reload the page's clock begins anew.
    this.started = Math.min(asking!.began, performance.now());
    return this.follow(step, (definition) => this.answered(step, definition, asking!, answer));
  }

  private answered(
    step: AnyStep,
    definition: AnyStepDefinition,
    asking: NonNullable<RunState['asking']>,
    answer: Answer,
  ): Outcome {
    if (!answer.ok) throw new StepError(answer.reason);
    return definition.answered
      ? definition.answered(step, this.program, asking.kept)
      : { did: { said: asking.said, gave: asking.gave } };
  }

  /** The steps in a slot have ended: the step outside says how to go on. */
  private leave(top: FrameState): Ask | null {
    this.state.frames.pop();
    const step = this.stepAt(this.state.frames.length);
    const definition = this.kinds.get(step.do);
    if (!definition?.again) {
      this.state.frames.at(-1)!.at++;
      return null;
    }
    this.started = performance.now();
    return this.follow(step, () => definition.again!(step, this.program, top.kept), top);
  }

  /** Does what an outcome says. Gives the ask when there is one. */
  private follow(step: AnyStep, work: (definition: AnyStepDefinition) => Outcome, inside?: FrameState): Ask | null {
    const { state } = this;
    try {
      const definition = this.kinds.get(step.do);
      if (!definition) throw new StepError(`There is no step of the kind “${step.do}” here.`);
      this.program.place(state);
      const outcome = work(definition);
      if ('enter' in outcome) {
        if (outcome.did) {
          this.keep(step, outcome.did);
          this.tell(step, outcome.did);
        }
        const gathers = Boolean(outcome.gather) && !state.gathered;
        if (gathers) {
          state.gathered = [];
          this.letters = 0;
        }
        const turn = inside?.slot === outcome.enter ? inside.turn + 1 : 0;
        state.frames.push(frame(outcome.enter, outcome.kept ?? null, turn, gathers));
        return null;
      }
      if ('stop' in outcome) {
        if (state.gathered) throw new StepError('What is written together cannot stop half-way.');
        this.tell(step, outcome.did);
        state.frames.length = 1;
        state.frames[0]!.at = this.program.routine.steps.length;
        return null;
      }
      if ('send' in outcome) return this.send(step, outcome.did, inside);
      if ('ask' in outcome) return this.ask(step, definition, outcome);
      this.done(step, outcome.did);
      return null;
    } catch (e) {
      const error = (e as Error).message;
      const said = this.kinds.get(step.do)?.said.name ?? step.do;
      this.tell(step, { said, gave: '' }, error);
      throw e;
    }
  }

  private ask(step: AnyStep, definition: AnyStepDefinition, o: Extract<Outcome, { ask: Ask }>): Ask | null {
    const asking = { kept: o.kept ?? null, said: o.did?.said ?? '', gave: o.did?.gave ?? '', began: this.started };
    if (o.ask.ask === 'write' && this.state.gathered) {
      this.gather(o.ask.drafts);
      this.program.place(this.state);
      const outcome = this.answered(step, definition, asking, { ok: true });
      if (!('did' in outcome) || 'ask' in outcome || 'enter' in outcome || 'send' in outcome)
        throw new Error('A step that writes is done when it has written.');
      this.done(step, outcome.did);
      return null;
    }
    this.state.asking = asking;
    return o.ask;
  }

  private gather(drafts: readonly Draft[]): void {
    const full = completed(this.records, drafts);
    const gathered = this.state.gathered!;
    if (gathered.length + full.length > MOST_TOGETHER)
      throw new StepError(`At most ${MOST_TOGETHER.toLocaleString('en-GB')} changes can be written together.`);
    this.letters += lettersIn(full);
    if (this.letters > MOST_LETTERS_TOGETHER)
      throw new StepError('The files and texts written together are too large; write fewer at once.');
    gathered.push(...full);
    this.overlay.lay(full);
  }

  private send(step: AnyStep, did: Did, inside: FrameState | undefined): Ask | null {
    const { state } = this;
    const drafts = state.gathered ?? [];
    // A group inside a group is sent with the outer one.
    if (!inside?.gathers || drafts.length === 0) {
      if (inside?.gathers) state.gathered = null;
      this.done(step, did);
      return null;
    }
    state.gathered = null;
    this.overlay.lift();
    state.asking = { kept: null, said: did.said, gave: did.gave, began: this.started };
    return { ask: 'write', drafts, together: true };
  }

  private done(step: AnyStep, did: Did): void {
    this.keep(step, did);
    this.tell(step, did);
    this.state.frames.at(-1)!.at++;
  }

  /** Keeps the result of a step for those after it. */
  private keep(step: AnyStep, did: Did): void {
    const { result } = step as AnyStep & { result?: string };
    if (result && did.result !== undefined) this.state.results[result] = keptValue(did.result);
  }

  private tell(step: AnyStep, did: Did, error?: string): void {
    const { frames } = this.state;
    const path = frames.map((_, i) => this.stepAt(i + 1)?.id ?? step.id);
    this.did.push({
      step: step.id,
      path,
      turns: frames.slice(1).map((f) => f.turn),
      said: did.said,
      gave: did.gave,
      ms: performance.now() - this.started,
      ...(error !== undefined && { error }),
    });
  }
}
