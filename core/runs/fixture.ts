import '../../kinds/given/all.ts';
import type { App, Routine, Step, Trigger } from '../app/schema.ts';
import { OWNER } from '../access/access.ts';
import { ElementMaker } from '../app/make.ts';
import { Refused } from '../document/refused.ts';
import { MemoryText } from '../document/kept-text.ts';
import { noConditions } from '../document/queries.ts';
import { triggerKinds } from '../routines/kinds.ts';
import { newRecordId } from '../host/device.ts';
import type { Draft } from '../records/change.ts';
import { hiveApp, T } from '../records/fixture.ts';
import { MemoryFiles, MemoryLog, MemoryMessages } from '../released/memory.ts';
import { ReleasedApp } from '../released/released.ts';
import type { CameBack, Outgoing } from '../services/answer.ts';
import { VirtualClock } from '../world/clock.ts';
import type { DayLimits } from './day.ts';
import { HostRuns } from './host-runs.ts';
import { MemoryRuns } from './lines.ts';
import { readRuns } from './live-run.ts';

let ids = 0;
export const make = new ElementMaker((letter) => `${letter}_${String(++ids).padStart(8, '0')}`);
export const START = Date.parse('2026-12-01T08:00:00Z');
export const MINUTE = 60_000;
export const HOUR = 3_600_000;
export const DAY = 86_400_000;

/** A routine with a trigger; what is not said of the trigger is as a new one begins. */
export function routine(
  name: string,
  on: Trigger['on'],
  trigger: object,
  steps: Step[],
  more: Partial<Routine> = {},
): Routine {
  const begun = triggerKinds.get(on)!.begin!(hiveApp());
  return {
    id: make.id('q'),
    name,
    given: T.hives,
    starts: [{ on, ...begun, ...trigger } as Trigger],
    steps,
    ...more,
  };
}

export const where = (left: string, op: 'is' | 'over' | 'under' | 'is filled', right = '') => ({
  ...noConditions(),
  conditions: [{ left, op, right }],
});

/** Never answers: what was asked by a host that was killed. */
const never = <T>(): Promise<T> => new Promise<T>(() => undefined);

/**
 * A released app with routines of its host, on a disk in memory and a clock that is told to move. It can be killed at any
 * moment and started again: what was kept by then is there, and nothing else.
 */
export class RunsWorld {
  readonly clock = new VirtualClock(START);
  readonly log = new MemoryLog();
  readonly lines = new MemoryRuns();
  readonly messages = new MemoryMessages(() => this.clock.now());
  readonly asked: Outgoing[] = [];
  readonly said: string[] = [];
  /** Whoever was told that something else is asked of them. */
  readonly told: string[] = [];
  released!: ReleasedApp;
  runs!: HostRuns;
  /** So many things are still done on the disk before the host is killed: the last one, before or after it is done. */
  killAfter = Infinity;
  killed = false;
  private life = 0;
  answers: (asked: Outgoing) => CameBack | Promise<CameBack> = () => ({
    failed: { sort: 'refused', words: 'Nobody is there.' },
  });

  constructor(
    public app: App,
    /** What it may do in a day. */
    readonly limits?: DayLimits,
  ) {}

  static async of(...routines: Routine[]): Promise<RunsWorld> {
    const app = hiveApp();
    app.zone = 'Europe/London';
    app.routines.push(...routines);
    const world = new RunsWorld(app);
    await world.start();
    return world;
  }

  /** Something on the disk, unless the host was killed; it may be killed by it. */
  private async disk<R>(life: number, work: () => Promise<R>): Promise<R> {
    if (life !== this.life) return never();
    if (--this.killAfter === 0) {
      this.kill();
      return never();
    }
    const done = await work();
    if (life !== this.life) return never();
    if (--this.killAfter === 0) {
      this.kill();
      return never();
    }
    return done;
  }

  kill(): void {
    this.life++;
    this.killed = true;
  }

  async start(): Promise<void> {
    const life = ++this.life;
    this.killed = false;
    const guarded = <P extends object>(port: P, names: (keyof P)[]): P =>
      new Proxy(port, {
        get: (of, name) => {
          const value = of[name as keyof P];
          if (typeof value !== 'function') return value;
          return names.includes(name as keyof P)
            ? (...args: unknown[]) => this.disk(life, () => value.apply(of, args) as Promise<unknown>)
            : value.bind(of);
        },
      });
    const runs = guarded(this.lines, ['append', 'rewrite']);
    const kept = await readRuns(runs, (w) => this.said.push(w));
    const { clock } = this;
    const ownClock = {
      now: () => clock.now(),
      after: (ms: number, work: () => void) => clock.after(ms, () => life === this.life && work()),
      every: (ms: number, work: () => void) => clock.every(ms, () => life === this.life && work()),
    };
    const whole = this.log.whole();
    this.released = new ReleasedApp(this.app, whole, {
      clock: ownClock,
      log: guarded(this.log, ['append', 'fold', 'turn']),
      files: new MemoryFiles(),
      messages: guarded(this.messages, ['keep']),
      listeners: new MemoryText(),
      erasing: new MemoryText(),
      mostFileBytes: 1,
      mostMails: this.limits?.mails,
      address: 'app@mellow-kite.example',
      services: (asked) =>
        this.disk(life, async () => {
          this.asked.push(asked);
          return this.answers(asked);
        }),
      tell: (what) => void (what.kind === 'said' && this.said.push(what.words)),
      watch: (host) =>
        (this.runs = new HostRuns(
          {
            host,
            app: () => this.app,
            clock: ownClock,
            runs,
            send: (m) => this.released.send(m),
            asks: (m) => this.released.asks(m, OWNER),
            file: async () => null,
            reach: (people, named) => [...people, ...named],
            asksOthers: (people) => void this.told.push(...people),
            mailsOfDay: () => this.released.mailsOfDay,
            limits: this.limits,
            say: (w) => this.said.push(w),
          },
          kept,
        )),
    });
    await Promise.race([this.runs.open(), this.settle()]);
    await this.settle();
  }

  async stop(): Promise<void> {
    await this.runs.close();
    await this.released.close(new Refused(503, 'The host stops.'));
    this.life++;
  }

  /** Releases the app as it is after a change; runs under way go on with what it does then, or with what they began with. */
  async release(change: (app: App) => void, runs: 'newest' | 'as begun' = 'newest'): Promise<void> {
    const app = structuredClone(this.app);
    change(app);
    if (runs === 'as begun') await this.runs.programs.stay();
    this.app = app;
    this.released.setApp(app);
    if (runs === 'newest') await this.runs.programs.move();
    this.runs.setApp();
    await this.settle();
  }

  /** Lets happen what needs no time. */
  async settle(): Promise<void> {
    for (let i = 0; i < 12; i++) await this.clock.settle();
  }
  async pass(ms: number): Promise<void> {
    await this.clock.pass(ms);
    await this.settle();
  }

  /** Changes as a device sends them, each with an id of its own. */
  async write(...drafts: Draft[]): Promise<void> {
    const { host } = this.released;
    const changes = drafts.map((d) => ({ ...d, id: newRecordId(), stamp: host.stamp() }));
    const taken = this.released.accept(changes, OWNER).then((r) => {
      if (r.refused[0]) throw new Error(r.refused[0].reason);
    });
    await Promise.race([taken, this.settle()]);
    await this.settle();
  }
  set(record: string, cells: Record<string, string | number | boolean | null>, table: string = T.hives): Promise<void> {
    return this.write({ do: 'set', table, record, cells });
  }

  cell(record: string, field: string, table: string = T.hives): unknown {
    return this.released.host.replica.records.row(table, record)?.cells[field] ?? null;
  }
  rows(table: string): Record<string, unknown>[] {
    return this.released.host.replica.records.rows(table).map((r) => ({ ...r.cells }));
  }
  /** The subjects of the mails that went out, in their order. */
  async mails(): Promise<string[]> {
    const list = await this.messages.list();
    const texts = await Promise.all(list.map((m) => this.messages.read(m.name)));
    return texts.map((t) => /^Subject: (.*)$/m.exec(t)?.[1]?.trim() ?? '');
  }
  /** The runs that have ended, in a word each. */
  get ended(): string[] {
    const name = (id: string): string => this.app.routines.find((r) => r.id === id)!.name;
    return this.runs.now.past.map((p) => `${name(p.routine)}${p.error ? `: ${p.error}` : ''}`);
  }
}
