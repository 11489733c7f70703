import TinyQueue from 'tinyqueue';
import type { Records } from '../records/store.ts';
import type { Ask } from '../routines/asks.ts';
import type { Machine } from '../routines/machine.ts';
import type { RunState } from '../routines/state.ts';
import type { LiveRun } from './live-run.ts';
import { Looking } from './looking.ts';

export type WaitAsk = Extract<Ask, { ask: 'wait' }>;

/** Runs that wait for a time, or for records to become otherwise. They cost no time until then, however many they are. */
export class Holding {
  private readonly times = new TinyQueue<{ at: number; id: string }>([], (a, b) => a.at - b.at);
  private readonly looking: Looking;
  /** Runs at work for which something has become otherwise meanwhile. */
  private readonly woken = new Set<string>();

  constructor(
    records: Records,
    private readonly live: ReadonlyMap<string, LiveRun>,
    private readonly machineOf: (run: LiveRun) => Machine,
    private readonly wake: (run: LiveRun) => void,
    /** It is to be looked sooner than before. */
    private readonly sooner: () => void,
  ) {
    this.looking = new Looking(records, (ids) => this.changed(ids));
  }

  private changed(ids: ReadonlySet<string>): void {
    for (const id of ids) {
      const run = this.live.get(id);
      if (run?.stands === 'holds') this.wakeNow(run);
      else if (run) this.woken.add(id);
    }
  }

  private wakeNow(run: LiveRun): void {
    this.looking.remove(run.id);
    this.wake(run);
  }

  /** The run looks at records from here on, where its ask says so: what changes wakes it, also while it is being kept. */
  watch(id: string, state: RunState, ask: WaitAsk): void {
    const run = this.live.get(id);
    const looks = !run || ask.looksUntil === undefined ? null : this.machineOf(run).holdsFor(state);
    if (!looks) return;
    this.looking.add(id, looks);
    if (looks.byTime) this.sooner();
  }

  /** A run holds. Where nobody can say what it looks at, it looks again itself. */
  add(run: LiveRun, state: () => RunState, ask: WaitAsk): void {
    if (!this.looking.has(run.id) && ask.looksUntil !== undefined) this.watch(run.id, state(), ask);
    run.stands = 'holds';
    this.until(run, this.looking.has(run.id) ? ask.looksUntil! : ask.until);
  }

  /** The run is woken at a time, in milliseconds since 1970. */
  until(run: LiveRun, at: number): void {
    run.wakes = at;
    const first = this.first;
    this.times.push({ at, id: run.id });
    if (at < first) this.sooner();
  }

  /** The soonest time; Infinity for none. */
  get first(): number {
    return this.times.peek()?.at ?? Infinity;
  }

  /** Does any hold for what may become so by the time alone? */
  get anyByTime(): boolean {
    return this.looking.anyByTime;
  }

  /** Wakes all whose time has come. */
  tick(now: number): void {
    for (let first = this.times.peek(); first && first.at <= now; first = this.times.peek()) {
      this.times.pop();
      const run = this.live.get(first.id);
      if (run && run.wakes !== null && run.wakes <= now) this.wakeNow(run);
    }
  }

  /** Has anything become otherwise for a run since it was watched, so that it must look again before it may hold? */
  takeWoken(id: string): boolean {
    return this.woken.delete(id);
  }

  /** The run holds no more. */
  remove(id: string): void {
    this.looking.remove(id);
  }

  close(): void {
    this.looking.close();
  }
}
