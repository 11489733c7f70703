import { aOrAn } from '../document/names.ts';
import type { AnyStep } from '../document/meaning.ts';
import { completed } from '../records/begin.ts';
import type { Draft } from '../records/change.ts';
import { MOST_LETTERS_TOGETHER, MOST_TOGETHER } from '../document/limits.ts';
import { fileType } from '../fields/kept-address.ts';
import { lettersOf } from '../fields/lists.ts';
import { display } from '../records/format.ts';
import { Overlay } from '../records/overlay.ts';
import type { Records } from '../records/store.ts';
import type { Answer, Ask } from './asks.ts';
import type { Program } from './program.ts';
import {
  frame,
  STEP_BUDGET,
  type Advanced,
  type FrameState,
  type OuterRun,
  type RunState,
  type Shown,
  type StepTrace,
} from './state.ts';
import { StepError, type AnyStepDefinition, type Did, type Outcome, type StepKinds } from './step.ts';
import { keptValue, valueOf } from './values.ts';

export const ended = (state: RunState, error?: string): Advanced => ({
  state: { ...state, asking: null, gathered: null, ended: error === undefined ? {} : { error } },
  ask: null,
  did: [],
});

const lettersIn = (drafts: readonly Draft[]): number =>
  drafts.reduce((n, d) => n + (d.do === 'set' ? lettersOf(d.cells) : 0), 0);

/** The slot of any step that holds what happens when it fails. */
const IF_FAILS = 'ifFails';

/** So many routines may wait for one another. */
const MOST_DEEP = 50;

/** So many of a list are shown. */
const SHOWN = 30;

/** What a step gave, where it can be shown as itself. */
function shownOf({ result, sent }: Did): { shows?: Shown } {
  if (sent) return { shows: sent };
  if (Array.isArray(result))
    return { shows: { list: result.slice(0, SHOWN).map((v) => display(v).slice(0, 200)), of: result.length } };
  return typeof result === 'string' && result.length < 500 && fileType(result) ? { shows: { file: result } } : {};
}

/** One advance of one run. */
export class Advance {
  private readonly did: StepTrace[] = [];
  private readonly overlay: Overlay;
  /** In what was gathered. */
  private letters = 0;
  private started = performance.now();

  constructor(
    private readonly state: RunState,
    private program: Program,
    private readonly programOf: (routine: string) => Program | null,
    private readonly kinds: StepKinds,
    private readonly records: Records,
    private readonly pauses: (step: AnyStep) => boolean = () => false,
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
      if (ask || state.paused) return { state, ask, did: this.did };
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
      const step = top.at < (top.end ?? Infinity) ? this.listOf(state.frames.length)[top.at] : undefined;
      if (step?.off) top.at++;
      else if (step && this.pause(step)) return null;
      else if (step) {
        const ask = this.take(step);
        if (ask) return ask;
      } else if (top.slot === null) {
        if (!state.outer?.length) return null;
        const ask = this.returned();
        if (ask) return ask;
      } else {
        const ask = this.leave(top);
        if (ask) return ask;
      }
    }
  }

  /** Does somebody want to look before this step? When the run goes on, it goes on with it. */
  private pause(step: AnyStep): boolean {
    const { state } = this;
    if (state.paused === step.id) delete state.paused;
    else if (this.pauses(step)) state.paused = step.id;
    return state.paused !== undefined;
  }

  private checkGiven(): void {
    const { routine } = this.program;
    const { state } = this;
    if (state.frames.length > 1 || state.frames[0]!.at > 0 || state.outer?.length) return;
    this.fillInputs();
    if (!routine.given) return;
    if (state.given && this.records.row(state.given.table, state.given.record)) return;
    const one = this.records.model.tables.get(routine.given)?.table.one ?? 'record';
    throw new StepError(`This routine needs ${aOrAn(one)}, and none was given.`);
  }

  /** Inputs that were given nothing get their first value. */
  private fillInputs(): void {
    const { routine } = this.program;
    for (const input of routine.inputs ?? []) {
      if (!input.first || (this.state.results[input.id] ?? null) !== null) continue;
      this.program.place(this.state);
      this.state.results[input.id] = keptValue(this.program.value(input.first, `What ${input.name} is at first`).value);
    }
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

  /** The routine that was run has ended: the one that ran it goes on with what it gave back. */
  private returned(): Ask | null {
    const { state } = this;
    const value = state.back ?? null;
    delete state.back;
    const { kept } = this.intoOuter();
    const step = this.stepAt(state.frames.length);
    this.started = performance.now();
    return this.follow(step, (definition) =>
      this.answered(step, definition, { kept, said: definition.said.name, gave: '', began: 0 }, { ok: true, value }),
    );
  }

  private intoOuter(): OuterRun {
    const { state } = this;
    const outer = state.outer!.pop()!;
    Object.assign(state, { routine: outer.routine, given: outer.given, frames: outer.frames, results: outer.results });
    const program = this.programOf(outer.routine);
    if (!program) throw new StepError('The routine is not part of the app any more.');
    this.program = program;
    return outer;
  }

  private call({ call, record, values = {}, kept }: Extract<Outcome, { call: string }>): void {
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

  private answered(
    step: AnyStep,
    definition: AnyStepDefinition,
    asking: NonNullable<RunState['asking']>,
    answer: Answer,
  ): Outcome {
    if (!answer.ok) throw new StepError(answer.reason);
    return definition.answered
      ? definition.answered(step, this.program, asking.kept, valueOf(answer.value, this.records))
      : { did: { said: asking.said, gave: asking.gave, ...(asking.sent && { sent: asking.sent }) } };
  }

  /** The steps in a slot have ended: the step outside says how to go on. */
  private leave(top: FrameState): Ask | null {
    this.state.frames.pop();
    const step = this.stepAt(this.state.frames.length);
    const definition = this.kinds.get(step.do);
    if (!definition?.again || top.slot === IF_FAILS) {
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
        const next = frame(outcome.enter, outcome.kept ?? null, turn, gathers);
        if (outcome.gather) next.gatheredBefore = inside?.gatheredBefore ?? state.gathered!.length;
        if (outcome.only !== undefined) Object.assign(next, { at: outcome.only, end: outcome.only + 1 });
        state.frames.push(next);
        return null;
      }
      if ('stop' in outcome) {
        this.end(step, outcome.did);
        return null;
      }
      if ('back' in outcome) {
        state.back = keptValue(outcome.back);
        this.end(step, outcome.did);
        return null;
      }
      if ('call' in outcome) {
        this.call(outcome);
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
      if (this.caught(error)) return null;
      throw e;
    }
  }

  /** Ends the routine at a step, wherever in its branches that stands. */
  private end(step: AnyStep, did: Did): void {
    const { frames } = this.state;
    if (frames.some((f) => f.gathers)) throw new StepError('What is written together cannot stop half-way.');
    this.tell(step, did);
    frames.length = 1;
    frames[0]!.at = this.program.routine.steps.length;
  }

  /**
   * Goes on after a failure where the maker said how: the step itself, or the nearest that it stands in, is tried again
   * or does what it says for “If it fails”. What was gathered inside of it is dropped. False when nothing was said.
   */
  private caught(reason: string): boolean {
    const { state } = this;
    for (;;) {
      for (let depth = state.frames.length; depth >= 1; depth--) {
        const owner = this.listOf(depth)[state.frames[depth - 1]!.at];
        // What fails while a failure is dealt with is not dealt with in the same way again.
        if (!owner || state.frames[depth]?.slot === IF_FAILS) continue;
        const tries = state.tries?.[owner.id] ?? 0;
        if (tries < (owner.again ?? 0)) {
          this.unwind(depth);
          state.tries = { ...state.tries, [owner.id]: tries + 1 };
          return true;
        }
        if (!owner.ifFails) continue;
        this.unwind(depth);
        if (state.tries) delete state.tries[owner.id];
        if (owner.reason) state.results[owner.reason] = reason;
        state.frames.push(frame(IF_FAILS));
        return true;
      }
      if (!state.outer?.length) return false;
      if (state.frames.some((f) => f.gatheredBefore !== undefined)) this.unwind(1);
      this.intoOuter();
    }
  }

  /** Leaves the branches inside a step, with what was gathered there. */
  private unwind(depth: number): void {
    const { state } = this;
    const left = state.frames.splice(depth);
    const first = left.find((f) => f.gatheredBefore !== undefined);
    if (!first || !state.gathered) return;
    state.gathered = first.gathers ? null : state.gathered.slice(0, first.gatheredBefore);
    this.overlay.lift();
    if (state.gathered) this.overlay.lay(state.gathered);
    this.letters = lettersIn(state.gathered ?? []);
  }

  private ask(step: AnyStep, definition: AnyStepDefinition, o: Extract<Outcome, { ask: Ask }>): Ask | null {
    const { ask } = o;
    const asking = {
      kept: o.kept ?? null,
      said: o.did?.said ?? '',
      gave: o.did?.gave ?? '',
      began: this.started,
      ...(ask.ask === 'send' && { sent: { to: ask.to, subject: ask.subject, body: ask.body } }),
    };
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
    if (this.state.tries) delete this.state.tries[step.id];
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
    const { outer = [], routine } = this.state;
    this.did.push({
      step: step.id,
      path,
      turns: frames.slice(1).map((f) => f.turn),
      ...(outer.length > 0 && { within: routine, deep: outer.length }),
      said: did.said,
      gave: did.gave,
      ms: performance.now() - this.started,
      ...shownOf(did),
      ...(error !== undefined && { error }),
    });
  }
}
