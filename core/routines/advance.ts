import type { AnyStep } from '../document/meaning.ts';
import { fileType } from '../fields/kept-address.ts';
import { display } from '../records/format.ts';
import type { Records } from '../records/store.ts';
import type { Answer, Ask, RunAsk } from './asks.ts';
import { Failures, IF_FAILS } from './failures.ts';
import { Gathering } from './gathering.ts';
import { Stack } from './stack.ts';
import type { Program } from './program.ts';
import {
  frame,
  STEP_BUDGET,
  TURN_BUDGET,
  type Advanced,
  type FrameState,
  type RunState,
  type Shown,
  type StepTrace,
} from './state.ts';
import { RunStopped, StepError, type AnyStepDefinition, type Did, type Outcome, type StepKinds } from './step.ts';
import { goOn, severalTurns } from './turns.ts';
import { addSteps } from './trace.ts';
import { keptValue, valueOf } from '../records/kept-value.ts';

export const ended = (state: RunState, error?: string, sort?: string): Advanced => ({
  state: {
    ...state,
    asking: null,
    gathered: null,
    ended: error === undefined ? {} : { error, ...(sort !== undefined && { sort }) },
  },
  ask: null,
  did: [],
});

/** So many of a list are shown. */
const SHOWN = 30;

/** What a step gave, where it can be shown as itself. */
function shownOf({ result, sent }: Did): { shows?: Shown } {
  if (sent) return { shows: sent };
  if (Array.isArray(result))
    return { shows: { list: result.slice(0, SHOWN).map((v) => display(v).slice(0, 200)), of: result.length } };
  return typeof result === 'string' && result.length < 500 && fileType(result) ? { shows: { file: result } } : {};
}

const sortOf = (e: unknown): string | undefined => (e instanceof StepError ? e.sort : undefined);
/** What failed, in words that a person understands: what the language itself throws says only where in the code. */
const wordsOf = (e: unknown): string =>
  e instanceof TypeError || e instanceof RangeError || e instanceof ReferenceError
    ? 'This step does not fit the app as it is now. Open the routine and look at it.'
    : (e as Error).message;

/** One advance of one run. */
export class Advance {
  private readonly did: StepTrace[] = [];
  private readonly stack: Stack;
  private readonly gathering: Gathering;
  private readonly failures: Failures;
  private started = performance.now();

  constructor(
    private readonly state: RunState,
    program: Program,
    private readonly programOf: (routine: string) => Program | null,
    private readonly kinds: StepKinds,
    private readonly records: Records,
    private readonly pauses: (step: AnyStep) => boolean = () => false,
  ) {
    this.stack = new Stack(state, program, programOf);
    this.gathering = new Gathering(state, records);
    this.failures = new Failures(state, this.stack, this.gathering);
  }

  go(answer: Answer | null): Advanced {
    const { state } = this;
    try {
      const gone = state.asking || state.several || state.paused ? this.stack.find() : null;
      if (gone !== null) this.leaveGone(gone);
      const ask = this.run(gone === null ? answer : null);
      if (ask || state.paused) {
        if (ask) state.asks = (state.asks ?? 0) + 1;
        this.stack.note();
        return { state, ask, did: this.did };
      }
      return { ...ended(state), did: this.did };
    } catch (e) {
      return { ...ended(state, wordsOf(e), sortOf(e)), did: this.did };
    } finally {
      this.gathering.lift();
    }
  }

  /** A release has removed the step that the run waited at: what it asked is over, and it goes on with the next. */
  private leaveGone(step: string): void {
    const { state } = this;
    state.asking = null;
    delete state.several;
    delete state.paused;
    // What a group had gathered is dropped with the group.
    if (state.gathered && !state.whole && !state.frames.some((f) => f.gathers)) this.gathering.cutTo(null);
    const said = 'A release has removed the step that this waited at';
    this.did.push({ step, path: [step], turns: [], said, gave: 'went on with the next', ms: 0 });
  }

  private run(answer: Answer | null): RunAsk | null {
    const { state } = this;
    if (state.whole === 'sent') {
      if (answer && !answer.ok) throw new StepError(answer.reason, answer.sort);
      return null;
    }
    if (state.several) {
      const ask = this.turns(answer);
      if (ask || state.paused) return ask;
    } else if (state.asking) {
      if (!answer) throw new Error('The run waits for an answer.');
      const ask = this.resume(answer);
      if (ask) return ask;
    } else this.stack.checkGiven();
    for (;;) {
      const top = state.frames.at(-1)!;
      const step = top.at < (top.end ?? Infinity) ? this.stack.listOf(state.frames.length)[top.at] : undefined;
      if (step?.off) top.at++;
      else if (step && this.pause(step)) return null;
      else if (step) {
        const ask = this.take(step);
        if (ask || state.paused) return ask;
      } else if (top.slot === null) {
        if (this.stack.isOutermost()) return this.sendWhole();
        const ask = this.returned();
        if (ask) return ask;
      } else if (this.stack.isInTurn()) return null;
      else {
        const ask = this.leave(top);
        if (ask || state.paused) return ask;
      }
    }
  }

  /** Goes on with the turns that are under way at once. */
  private turns(answer: Answer | null): RunAsk | null {
    const { state } = this;
    delete state.paused;
    const step = this.stack.here();
    const began = performance.now();
    const went = goOn(
      {
        state,
        next: (kept) => {
          this.started = performance.now();
          this.stack.program.place(state);
          const outcome = this.kinds.get(step.do)!.nextTurn!(step, this.stack.program, kept);
          if ('enter' in outcome) {
            this.countTurn();
            this.entered(step, outcome);
            return { kept: outcome.kept ?? null };
          }
          if (!('did' in outcome) || !outcome.did) throw new Error('A step of several turns is done when they are.');
          return { did: outcome.did };
        },
        advance: (turn, had) => {
          const program = this.programOf(turn.routine);
          if (!program) return ended(turn, 'The routine is not part of the app any more.');
          const next = new Advance(turn, program, this.programOf, this.kinds, this.records, this.pauses).go(had);
          addSteps(this.did, next.did);
          return next;
        },
      },
      answer,
    );
    if ('asks' in went) return went.asks;
    if ('paused' in went) {
      state.paused = went.paused;
      return null;
    }
    delete state.several;
    this.started = began;
    if ('stopped' in went) this.stack.end();
    else if ('did' in went) this.done(step, went.did);
    else if (!this.failures.caught(went.failed, went.sort)) throw new StepError(went.failed, went.sort);
    return null;
  }

  /** Does somebody want to look before this step? When the run goes on, it goes on with it. */
  private pause(step: AnyStep): boolean {
    const { state } = this;
    if (state.paused === step.id) delete state.paused;
    else if (this.pauses(step)) state.paused = step.id;
    return state.paused !== undefined;
  }

  private take(step: AnyStep): RunAsk | null {
    if (this.state.budget-- <= 0)
      throw new RunStopped(`The routine was stopped after ${STEP_BUDGET.toLocaleString('en-GB')} steps.`);
    this.started = performance.now();
    return this.follow(step, (definition) => definition.start(step, this.stack.program));
  }

  /** A loop begins its next turn. Turns without a step in them count too, or they would never come to an end. */
  private countTurn(): void {
    this.state.turns = (this.state.turns ?? 0) + 1;
    if (this.state.turns > TURN_BUDGET)
      throw new RunStopped(`The routine was stopped after ${TURN_BUDGET.toLocaleString('en-GB')} turns of its loops.`);
  }

  /** The answer to an ask has come: goes on with the step that asked. */
  private resume(answer: Answer): RunAsk | null {
    const step = this.stack.here();
    const { asking } = this.state;
    this.state.asking = null;
    // After a reload the page's clock begins anew.
    this.started = Math.min(asking!.began, performance.now());
    return this.follow(step, (definition) => this.answered(step, definition, asking!, answer));
  }

  /** The routine that was run has ended: the one that ran it goes on with what it gave back. */
  private returned(): RunAsk | null {
    const { state } = this;
    const value = state.back ?? null;
    delete state.back;
    const { kept } = this.stack.intoOuter();
    const step = this.stack.here();
    this.started = performance.now();
    return this.follow(step, (definition) =>
      this.answered(step, definition, { kept, said: definition.said.name, gave: '', began: 0 }, { ok: true, value }),
    );
  }

  private answered(
    step: AnyStep,
    definition: AnyStepDefinition,
    asking: NonNullable<RunState['asking']>,
    answer: Answer,
  ): Outcome {
    if (!answer.ok) throw new StepError(answer.reason, answer.sort);
    return definition.answered
      ? definition.answered(step, this.stack.program, asking.kept, valueOf(answer.value, this.records))
      : { did: { said: asking.said, gave: asking.gave, ...(asking.sent && { sent: asking.sent }) } };
  }

  /** The steps in a slot have ended: the step outside says how to go on. */
  private leave(top: FrameState): RunAsk | null {
    this.state.frames.pop();
    const step = this.stack.here();
    const definition = this.kinds.get(step.do);
    if (!definition?.nextTurn || top.slot === IF_FAILS) {
      this.state.frames.at(-1)!.at++;
      return null;
    }
    this.started = performance.now();
    return this.follow(step, () => definition.nextTurn!(step, this.stack.program, top.kept), top);
  }

  /** Does what an outcome says. Gives the ask when there is one. */
  private follow(step: AnyStep, work: (definition: AnyStepDefinition) => Outcome, inside?: FrameState): RunAsk | null {
    const { state } = this;
    try {
      const definition = this.kinds.get(step.do);
      if (!definition) throw new StepError(`There is no step of the kind “${step.do}” here.`);
      const early = this.stack.program.wrongWith(step.id);
      if (early) throw new StepError(early);
      this.stack.program.place(state);
      const outcome = work(definition);
      if ('enter' in outcome) {
        this.entered(step, outcome);
        // What is written together waits for nothing, so its turns may as well come in order.
        if (outcome.atOnce && !inside && !state.gathered) {
          state.several = severalTurns(outcome.enter, outcome.kept ?? null, outcome.atOnce);
          return this.turns(null);
        }
        const gathers = Boolean(outcome.gather) && !state.gathered;
        if (gathers) this.gathering.begin();
        const turn = inside?.slot === outcome.enter ? inside.turn + 1 : 0;
        if (inside) this.countTurn();
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
        this.stack.call(outcome);
        return null;
      }
      if ('send' in outcome) return this.send(step, outcome.did, inside);
      if ('ask' in outcome) return this.ask(step, definition, outcome);
      this.done(step, outcome.did);
      return null;
    } catch (e) {
      const error = wordsOf(e);
      const said = this.kinds.get(step.do)?.said.name ?? step.do;
      this.tell(step, { said, gave: '' }, error);
      // Whoever is stopped does not go on by what is said for a failure.
      if (!(e instanceof RunStopped) && this.failures.caught(error, sortOf(e) ?? 'other')) return null;
      throw e;
    }
  }

  /** Ends the routine at a step, wherever in its branches that stands. */
  private end(step: AnyStep, did: Did): void {
    if (this.state.frames.some((f) => f.gathers)) throw new StepError('What is written together cannot stop half-way.');
    this.tell(step, did);
    this.stack.end();
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
      this.gathering.add(o.ask.drafts);
      this.stack.program.place(this.state);
      const outcome = this.answered(step, definition, asking, { ok: true });
      if (!('did' in outcome) || 'ask' in outcome || 'enter' in outcome || 'send' in outcome)
        throw new Error('A step that writes is done when it has written.');
      this.done(step, outcome.did);
      return null;
    }
    this.state.asking = asking;
    return o.ask;
  }

  private send(step: AnyStep, did: Did, inside: FrameState | undefined): Ask | null {
    const { state } = this;
    // A group inside a group is sent with the outer one.
    const drafts = inside?.gathers ? this.gathering.take() : [];
    if (drafts.length === 0) {
      this.done(step, did);
      return null;
    }
    state.asking = { kept: null, said: did.said, gave: did.gave, began: this.started };
    return { ask: 'write', drafts, together: true };
  }

  private done(step: AnyStep, did: Did): void {
    this.keep(step, did);
    this.tell(step, did);
    if (this.state.tries) delete this.state.tries[step.id];
    this.state.frames.at(-1)!.at++;
  }

  /** The run has ended: what it gathered from its beginning on is sent as one. */
  private sendWhole(): Ask | null {
    const { state } = this;
    if (state.whole !== 'gathers' || state.inside) return null;
    state.whole = 'sent';
    const drafts = this.gathering.take();
    return drafts.length ? { ask: 'write', drafts, together: true } : null;
  }

  /** A slot of a step is entered: what it says of that. */
  private entered(step: AnyStep, { did }: { did?: Did }): void {
    if (!did) return;
    this.keep(step, did);
    this.tell(step, did);
  }

  /** Keeps the result of a step for those after it. */
  private keep(step: AnyStep, did: Did): void {
    const { result } = step as AnyStep & { result?: string };
    if (result && did.result !== undefined) this.state.results[result] = keptValue(did.result);
  }

  private tell(step: AnyStep, did: Did, error?: string): void {
    const { frames } = this.state;
    const path = frames.map((_, i) => this.stack.stepAt(i + 1)?.id ?? step.id);
    const { outer = [], routine } = this.state;
    addSteps(this.did, [
      {
        step: step.id,
        path,
        turns: frames.slice(1).map((f) => f.turn),
        ...(outer.length > 0 && { within: routine, deep: outer.length }),
        said: did.said,
        gave: did.gave,
        ms: performance.now() - this.started,
        ...shownOf(did),
        ...(error !== undefined && { error }),
      },
    ]);
  }
}
