import type { Records } from '../records/store.ts';
import type { RunAsk } from '../routines/asks.ts';
import type { Machine } from '../routines/machine.ts';
import type { RunState } from '../routines/state.ts';
import { Holding, type WaitAsk } from './holding.ts';
import { keptOf, type LiveRun } from './live-run.ts';
import { LOOK_MS } from './next-look.ts';
import { Questions, type AnswerMessage, type OpenQuestion } from './questions.ts';

/** So many runs are looked at at once after a start, with a pause between the parts, in milliseconds. */
const PART = 200;
const PAUSE_MS = 5;

interface WaitsPorts {
  records: Records;
  live: ReadonlyMap<string, LiveRun>;
  now(): number;
  /** Does something in so many milliseconds. */
  after(ms: number, work: () => void): unknown;
  machineOf(run: LiveRun): Machine;
  /** The run goes on. */
  wake(run: LiveRun): void;
  /** {@link Waits.first} is sooner than before. */
  sooner(): void;
  reach(people: readonly string[], named: readonly string[]): string[];
  asksOthers(people: readonly string[]): void;
  /** Resolves when the answer is kept. */
  keep(line: { do: 'answered'; id: string; value: string; by: string }): Promise<void>;
}

/** What runs wait for: a time, records that become otherwise, an answer of somebody. */
export class Waits {
  private readonly holding: Holding;
  private readonly questions: Questions;
  private closed = false;

  constructor(private readonly ports: WaitsPorts) {
    const { records, live, now, machineOf, wake, sooner, reach, asksOthers } = ports;
    this.holding = new Holding(records, live, machineOf, wake, sooner);
    this.questions = new Questions({
      live,
      now,
      reach,
      asksOthers,
      answer: async (run, answer) => {
        await ports.keep({ do: 'answered', id: run.id, ...answer });
        if (run.stands === 'holds') wake(run);
      },
    });
  }

  /** Does a run wait with this ask, rather than to be answered at once? */
  isFor(ask: RunAsk): boolean {
    if (ask.ask !== 'wait' && ask.ask !== 'person') return false;
    const until = ask.ask === 'wait' ? (ask.looksUntil ?? ask.until) : ask.until;
    return until > this.ports.now();
  }

  /** A run waits. */
  add(run: LiveRun, ask: RunAsk): void {
    if (ask.ask === 'person') {
      run.stands = 'holds';
      this.questions.add(run, ask);
      this.holding.until(run, ask.until);
    } else {
      this.questions.remove(run.id);
      if (ask.ask === 'wait') this.holding.add(run, () => keptOf(run)!.state, ask);
    }
  }

  /** It waits for nothing any more. */
  remove(id: string): void {
    this.holding.remove(id);
    this.questions.remove(id);
  }

  /** It looks at records from here on, also while that it waits is being kept. */
  watch(id: string, state: RunState, ask: WaitAsk): void {
    this.holding.watch(id, state, ask);
  }

  /** Has anything become otherwise for a run that was to wait, so that it must look again before it may? */
  takeWoken(run: LiveRun): boolean {
    return this.holding.takeWoken(run.id) || run.answer !== undefined;
  }

  /** It goes on at a time, in milliseconds since 1970. */
  until(run: LiveRun, at: number): void {
    this.holding.until(run, at);
  }
  /** When it is to be looked which of them go on, in milliseconds since 1970; Infinity for never. */
  get first(): number {
    return Math.min(this.holding.first, this.holding.anyByTime ? this.ports.now() + LOOK_MS : Infinity);
  }
  /** Wakes all whose time has come. */
  tick(now: number): void {
    this.holding.tick(now);
  }
  /**
   * After a start, and after a release, which may let them hold for something else: runs that hold are put where they
   * belong by `place`, and those go on for which it is so by now. They are looked at in parts, so that thousands hold
   * nobody up.
   */
  lookAgain(holding: readonly LiveRun[], place: (run: LiveRun) => void): void {
    const part = (from: number): void => {
      for (const run of holding.slice(from, from + PART)) {
        // It may have ended, or been woken by a release.
        if (run.stands !== 'holds' || this.ports.live.get(run.id) !== run) continue;
        // What it looks at is found out anew.
        this.holding.remove(run.id);
        place(run);
        if (run.stands === 'holds' && this.isOver(run)) this.ports.wake(run);
      }
      if (from + PART < holding.length && !this.closed) this.ports.after(PAUSE_MS, () => part(from + PART));
    };
    part(0);
  } // prettier-ignore

  /** Would a run that holds go on if it looked now? */
  private isOver(run: LiveRun): boolean {
    const { state, ask } = keptOf(run)!;
    // It ends in words, or goes on with what is left.
    if (!this.ports.machineOf(run).stands(state)) return true;
    if (ask.ask !== 'wait' || ask.looksUntil === undefined) return false;
    try {
      const next = this.ports.machineOf(run).advance(state, { ok: true });
      return next.ask?.ask !== 'wait' || next.did.length > 0;
    } catch {
      return true; // what goes wrong is told by the run itself
    }
  }

  /** What is asked of somebody. */
  of(person: string, since?: number): OpenQuestion[] {
    return this.questions.of(person, since);
  }
  /** Somebody answers what they are asked. Throws in words for what is no answer. */
  answer(person: string, message: AnswerMessage, since?: number): Promise<void> {
    return this.questions.answer(person, message, since);
  }

  close(): void {
    this.closed = true;
    this.holding.close();
  }
}
