import type { App } from '../app/schema.ts';
import type { Change } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import { triggerKinds } from '../routines/kinds.ts';
import { Becoming } from './becoming.ts';
import { Causes } from './causes.ts';
import { ClockStarts, type Upcoming } from './clock-starts.ts';
import { LOOK_MS } from './next-look.ts';
import { RecordStarts } from './record-starts.ts';
import { runId, type Start } from './start.ts';

export const isOfHost = (t: { on: string }): boolean => triggerKinds.get(t.on)?.at === 'host';

/** Does the host start any routine of an app? */
export const startsByHost = (app: Pick<App, 'routines'>): boolean => app.routines.some((r) => r.starts?.some(isOfHost));

/** Does the host alone start a routine, so that it never runs on a phone? */
export const runsOnlyOnHost = (app: App, routine: string): boolean => {
  const starting = [...triggerKinds.values()].filter((t) => t.starters(app, routine, () => '').length > 0);
  return starting.length > 0 && starting.every((t) => t.at === 'host');
};

/** The zone by which an app's clock goes: its own, or that of this machine. */
export const zoneOf = (app: Pick<App, 'zone'>): string =>
  app.zone ?? new Intl.DateTimeFormat().resolvedOptions().timeZone;

/** All that is looked for to start runs, in one app: changes of records, what becomes so, and the clock. */
export class Starting {
  /** What is looked for, in a text: the same as long as the same is. */
  readonly triggers: string;
  private readonly changed: RecordStarts;
  private readonly clocks: ClockStarts;
  private becoming: Becoming | null = null;
  private readonly causes: Causes;

  constructor(
    private readonly records: Records,
    private readonly app: App,
  ) {
    this.triggers = runId(
      zoneOf(app),
      ...app.routines.map((r) => JSON.stringify([r.id, r.given, r.starts?.filter(isOfHost) ?? []])),
    );
    this.causes = new Causes((id) => app.routines.find((r) => r.id === id)?.name);
    this.changed = new RecordStarts(records, app);
    this.clocks = new ClockStarts(records, app, zoneOf(app));
  }

  /** From here on it is looked what becomes so: what is so now has not. */
  begin(): void {
    this.becoming ??= new Becoming(this.records, this.app);
  }

  before(change: Change): void {
    this.changed.before(change);
  }

  /** What a change has started. */
  after(change: Change): Start[] {
    const found = this.changed.after(change);
    const became = this.becoming?.take({ id: change.id, path: change.run?.path ?? [] }) ?? [];
    // What was there before the first release starts nothing.
    return change.brought ? [] : this.causes.bounded(change, [...found, ...became]);
  }

  /** What the clock has started after an instant up to now, in milliseconds since 1970. */
  due(after: number, now: number): Start[] {
    const became = this.becoming?.byTime ? this.becoming.take({ id: `time ${now}`, path: [] }) : [];
    return [...this.clocks.due(after, now), ...became];
  }

  /** Is it to be kept up to when the clock was looked at, though it started nothing? Where dates can move meanwhile. */
  get keepsTime(): boolean {
    return this.clocks.hasDates || (this.becoming?.byTime ?? false);
  }

  /** When it is to be looked again what the clock starts; Infinity for never. */
  next(now: number): number {
    return Math.min(this.clocks.next(now), this.becoming?.byTime ? now + LOOK_MS : Infinity);
  }
  /** May that have become sooner by a change? */
  get mayBeSooner(): boolean {
    return this.clocks.mayBeSooner;
  }
  upcoming(now: number): Upcoming[] {
    return this.clocks.upcoming(now);
  }

  close(): void {
    this.clocks.close();
    this.becoming?.close();
  }
}
