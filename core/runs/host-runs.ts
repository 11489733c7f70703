import type { Watch } from '../host/watch.ts';
import type { Change } from '../records/change.ts';
import { driveOn, type Driven, type KeepRun, type RunTrace } from '../routines/run.ts';
import { Beginnings } from './beginnings.ts';
import type { BoardMessage } from './board.ts';
import { hostAsks, type HostSide } from './host-asks.ts';
import { Day, DAY_LIMITS, type DayLimits } from './day.ts';
import { circleIn } from './circle.ts';
import { endOf } from './ending.ts';
import { forgetLive, holdsAnyOf } from './forgetting.ts';
import { RunsKeeping } from './keeping.ts';
import type { RunLine, RunsPort } from './lines.ts';
import { Lately } from './lately.ts';
import { LOOK_MS, NextLook } from './next-look.ts';
import { lean } from './lean-run.ts';
import { heldOf, isSameStand, keptOf, newTrace, take, type LiveRun, type RunsNow } from './live-run.ts';
import { Programs } from './programs.ts';
import { Queues } from './queues.ts';
import { nextTry, triedAgain, type Again } from './retrying.ts';
import type { Start } from './start.ts';
import { Starting, startsByHost } from './starting.ts';
import { Waits } from './waits.ts';

/** So many runs of an app are at work at once. */
const MOST_GOING = 100;

export interface HostRunsPorts extends HostSide {
  runs: RunsPort;
  /** What it may do in a day. */
  limits?: DayLimits | undefined;
  /** Mails that left the app in the 24 hours up to now. */
  mailsOfDay(): number;
  /** For the operator. */
  say(words: string): void;
}

/**
 * The runs of a released app on its host. What starts them is looked for in every change and at every time; each run is
 * kept before whatever it asks, so that it goes on after any stop, and everything it does is done once.
 */
export class HostRuns implements Watch {
  private readonly keeping: RunsKeeping;
  private readonly queues: Queues;
  private readonly day: Day;
  /** What changed lately. */
  readonly lately: Lately;
  /** What runs wait for. */
  readonly waits: Waits;
  /** The routines by which runs go on. */
  readonly programs: Programs;
  private starting: Starting;
  private readonly begins: Beginnings;
  private readonly next: NextLook;
  private isOpen = false;
  private closed = false;

  /** `now` is what {@link readRuns} gave. Nothing runs before {@link open}; changes that were made since are told before. */
  constructor(
    private readonly ports: HostRunsPorts,
    readonly now: RunsNow,
  ) {
    this.keeping = new RunsKeeping(ports.runs, now, () => ports.host.replica.records, ports.app, ports.say);
    this.queues = new Queues(
      MOST_GOING,
      (run) => this.work(run).finally(() => this.day.stands(run)),
      (run) => !this.now.paused.has('') && !this.now.paused.has(run.routine) && this.day.mayGo(run),
      () => this.next.by(this.soon),
    );
    const { host, clock, app, reach, asksOthers, limits = DAY_LIMITS, mailsOfDay } = ports;
    const { records } = host.replica;
    const time = (): number => clock.now();
    this.next = new NextLook(clock, () => this.tick());
    const say = (words: string): void => ports.say(words);
    this.day = new Day(now, limits, time, mailsOfDay, say);
    this.starting = this.startingNow();
    this.lately = new Lately(records);
    this.begins = new Beginnings({
      now,
      append: (lines) => this.keeping.append(...lines),
      position: () => ports.host.position,
      time,
      triggers: () => this.starting.triggers,
      begin: (run) => this.placed(run),
      say,
    });
    const keep = (...lines: RunLine[]): Promise<void> => this.appended(...lines);
    this.programs = new Programs({ app, records, now: time, keep }, now);
    this.waits = new Waits({
      records,
      live: now.live,
      now: time,
      after: (...later) => clock.after(...later),
      machineOf: (run) => this.programs.machineOf(run),
      wake: (run) => this.toWork(run),
      sooner: () => this.next.by(this.waits.first),
      reach,
      asksOthers,
      keep,
    });
  }

  /** Keeps lines, and takes them in. */
  private async appended(...lines: RunLine[]): Promise<void> {
    await this.keeping.append(...lines);
    for (const line of lines) take(this.now, line);
  }

  /** All records are as they were kept; what happened since the last run began is told next. */
  restored(): void {
    this.starting.begin();
  }

  /** Goes on with what runs, and begins what is due. */
  async open(): Promise<void> {
    const { clock, host } = this.ports;
    this.isOpen = true;
    this.next.begin();
    host.tick();
    this.starting.begin();
    for (const id of host.recent.runs) if (!this.now.live.has(id)) host.recent.forgetRun(id);
    // Something else is looked for than before: that begins now.
    if (this.now.seen?.triggers !== this.starting.triggers) {
      this.begins.drop();
      this.now.seen = null;
    }
    const held = heldOf(this.now);
    for (const run of this.now.live.values()) if (run.stands !== 'holds') this.placed(run);
    this.waits.lookAgain(held, (run) => this.placed(run));
    // Nothing is kept for an app whose host starts nothing.
    if (this.works || this.now.seen) this.begins.flush(this.now.seen ? undefined : clock.now());
    this.tick();
    await this.settled();
  }

  /** While records are restored they are as they were when it was looked last. */
  get asOf(): number | null {
    return this.isOpen ? null : (this.now.seen?.time ?? null);
  }

  /** Takes the document of a newer release: what it starts begins now. */
  setApp(): void {
    this.programs.changed();
    this.starting.close();
    this.starting = this.startingNow();
    this.starting.begin();
    if (this.works || this.now.seen) this.begins.flush(this.ports.clock.now());
    this.waits.lookAgain(
      [...this.now.live.values()].filter((r) => r.stands === 'holds'),
      (run) => this.placed(run),
    );
    this.tick();
  }

  private startingNow(): Starting {
    return new Starting(this.ports.host.replica.records, this.ports.app());
  }

  // What starts runs

  before(change: Change): void {
    this.lately.before(change);
    this.safely(() => this.starting.before(change));
  }

  after(change: Change, at: number): void {
    this.lately.after(change);
    this.safely(() => {
      const found = this.starting.after(change);
      if (!this.now.seen || at > this.now.seen.at) this.begins.add(found);
    });
  }

  /** Changes were made: what they start begins when it is kept. */
  made(): void {
    if (!this.isOpen) return;
    if (this.begins.any) this.begins.flush();
    if (this.starting.mayBeSooner) this.next.by(this.soon);
  }

  /** Nothing that is looked for may take down the host. */
  private safely(work: () => void): void {
    try {
      work();
    } catch (e) {
      this.ports.say(`What starts its routines cannot be told: ${(e as Error).message}`);
    }
  }

  /** Resolves when all that was started so far is kept. */
  settled = (): Promise<void> => this.begins.settled();

  // The clock

  /** Looks what the clock starts, and which runs go on. */
  tick(): void {
    if (!this.isOpen || this.closed) return;
    const { clock } = this.ports;
    const now = clock.now();
    this.safely(() => this.begins.add(this.starting.due(this.now.seen?.time ?? now, now)));
    if (this.starting.keepsTime || this.begins.any) this.begins.flush(now);
    this.waits.tick(now);
    void this.keeping.shorten(now);
    this.day.tell();
    this.queues.lookAgain();
    this.next.at(Math.min(this.waits.first, this.starting.next(now), this.queues.holdsBack ? this.soon : Infinity));
  }
  private get soon(): number {
    return this.ports.clock.now() + LOOK_MS;
  }

  // Runs at work

  /** Puts a run where it belongs: to work, or among those that hold. */
  private placed(run: LiveRun): void {
    if (run.stands === 'failed') return;
    if (run.stands === 'retries') return this.waits.until(run, run.wakes!);
    const kept = keptOf(run);
    if (kept && !run.answer && this.waits.isFor(kept.ask)) this.waits.add(run, kept.ask);
    else this.toWork(run);
  }

  private toWork(run: LiveRun): void {
    Object.assign(run, { stands: 'waits', wakes: null });
    this.queues.add(run);
    if (this.isOpen) this.queues.begin();
  }

  /** Drives a run as far as it goes. Gives whether it is to look again at once. */
  private async work(run: LiveRun): Promise<boolean> {
    if (this.closed || this.now.live.get(run.id) !== run) return false;
    run.stands = 'runs';
    this.day.begins(run);
    const { routines } = this.programs.appOf(run);
    const machine = this.programs.machineOf(run);
    const routine = routines.find((r) => r.id === run.routine);
    const circle = run.cut ?? circleIn(run.path, (id) => routines.find((r) => r.id === id)?.name);
    const cut = routine ? circle : 'The routine is not part of the app any more.';
    if (!routine || cut) {
      await this.ends(run, null, cut ?? undefined);
      return false;
    }
    const kept = keptOf(run);
    if (!kept && run.kept !== null)
      this.ports.say(`What was kept of a run of ${routine.name} cannot be read: it begins anew.`);
    const trace = newTrace(run, routine, this.ports.host.replica.records);
    const begun = { ...machine.begin(routine, run.given?.record ?? null, 0, run.values), id: run.id };
    const keep: KeepRun = async (id, put, steps) => {
      if (!put) return;
      if (this.closed || !this.now.live.has(id)) throw new Error('The host stops, or the run was ended.');
      // What changes from here on wakes it, also while it is being kept.
      if (put.ask.ask === 'wait') this.waits.watch(id, put.state, put.ask);
      const kept = lean(put, run);
      if (steps.length === 0 && isSameStand(run.kept, kept)) return;
      await this.keeping.append({ do: 'kept', id, steps: [...steps], run: kept });
      run.kept = JSON.stringify(kept);
      run.isFromBefore = false;
      delete run.answer;
      // What it wrote for asks before this one is not asked for again.
      if (!put.answered && put.ask.ask !== 'several') this.ports.host.recent.forgetRun(id);
    };
    const asks = hostAsks(this.ports, { id: run.id, path: run.path });
    try {
      const driven = await driveOn(
        machine,
        kept ? { ...kept, trace: { ...trace, ms: kept.trace.ms } } : { state: begun, ask: null, trace },
        asks,
        keep,
        {
          parks: (ask) => this.waits.isFor(ask) || this.closed,
        },
      );
      return await this.drove(run, driven);
    } catch (e) {
      if (this.closed || !this.now.live.has(run.id)) return false;
      this.ports.say(`A run of ${routine.name} could not be kept: ${(e as Error).message}`);
      await this.retries(run, (e as Error).message, nextTry(run.tries, this.ports.clock.now()));
      return false;
    }
  }

  private async drove(run: LiveRun, driven: Driven): Promise<boolean> {
    const { parked, trace, sort } = driven;
    // What failed because the host stops has not failed.
    if (this.closed || !this.now.live.has(run.id)) return false;
    const woken = this.waits.takeWoken(run);
    if (parked && !woken) {
      this.waits.add(run, parked);
      return false;
    }
    this.waits.remove(run.id);
    if (parked) {
      run.stands = 'waits';
      return true;
    }
    const again = sort ? triedAgain(run.tries, sort, this.ports.clock.now()) : null;
    if (trace.error !== undefined && again) await this.retries(run, trace.error, again);
    else await this.ends(run, driven, trace.error);
    return false;
  }

  private async retries(run: LiveRun, error: string, again: Again): Promise<void> {
    const { tries, at } = again;
    await this.keeping.append({ do: 'again', id: run.id, tries, at, error }).catch(() => undefined);
    Object.assign(run, { stands: 'retries', tries, error });
    this.waits.until(run, at);
  }

  private async ends(run: LiveRun, driven: Driven | null, error?: string): Promise<void> {
    const { app, host, clock } = this.ports;
    const { records } = host.replica;
    const { lines, starts } = endOf(run, driven, error, { app: app(), records, at: clock.now() });
    await this.appended(...lines);
    for (const id of starts) this.placed(this.now.live.get(id)!);
    this.waits.remove(run.id);
    if (error === undefined) this.ports.host.recent.forgetRun(run.id);
  }

  // By hand

  /** Holds up the runs of a routine, or of all (empty), or lets them go on. */
  async pause(routine: string, on: boolean): Promise<void> {
    await this.appended({ do: 'paused', routine, on });
    this.queues.lookAgain();
  }

  /** Goes on with a run that failed, from the ask at which it did. */
  async runAgain(id: string): Promise<boolean> {
    const run = this.now.live.get(id);
    if (run?.stands !== 'failed' && run?.stands !== 'retries') return false;
    await this.appended({ do: 'goes on', id });
    this.toWork(run);
    return true;
  }

  /** Ends a run that holds or failed. */
  async drop(id: string): Promise<boolean> {
    const run = this.now.live.get(id);
    if (!run || run.stands === 'runs' || run.stands === 'waits') return false;
    await this.appended({ do: 'dropped', id, at: this.ports.clock.now() });
    this.waits.remove(id);
    this.ports.host.recent.forgetRun(id);
    return true;
  }

  /** A mail that a run sent did not arrive. Gives whether the run is known. */
  async returned(id: string, words: string): Promise<boolean> {
    const { live, past } = this.now;
    if (!live.has(id) && !past.some((p) => p.id === id)) return false;
    await this.appended({ do: 'returned', id, words });
    return true;
  }

  /** Starts routines by something outside of records and the clock, each once by its id. Rejects where it is not kept. */
  async begin(starts: readonly Start[]): Promise<void> {
    const { now } = this;
    const fresh = starts.filter((s) => !now.live.has(s.id) && !now.past.some((p) => p.id === s.id));
    if (fresh.length === 0) return this.settled();
    this.begins.add(fresh);
    this.begins.flush();
    await this.settled();
    if (fresh.some((s) => !now.live.has(s.id) && !now.past.some((p) => p.id === s.id)))
      throw new Error('What was to begin could not be kept.');
  }

  /** What the host does now, and has done. */
  get board(): BoardMessage {
    return this.keeping.board(this.starting.upcoming(this.ports.clock.now()), this.day.use);
  }
  /** A run with its steps; null where nothing of it is kept. */
  trace(id: string): Promise<RunTrace | null> {
    return this.keeping.trace(id);
  }

  /** Ends all runs that hold anything of somebody, and lets go of what is kept of them. */
  async forget(gone: readonly string[]): Promise<void> {
    this.lately.forget();
    const holds = holdsAnyOf(gone);
    for (const { id } of forgetLive(this.now, holds)) {
      this.waits.remove(id);
      this.ports.host.recent.forgetRun(id);
    }
    await this.keeping.forget(holds, this.ports.clock.now());
  }

  /** Is anything started by the host, or under way? Then the app runs without being asked for. */
  get works(): boolean {
    return this.now.live.size > 0 || startsByHost(this.ports.app());
  }

  async close(): Promise<void> {
    this.closed = true;
    this.next.close();
    this.waits.close();
    this.starting.close();
    await this.settled();
  }
}
