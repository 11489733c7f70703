import { openToLinkHolders, type Access, type Who } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import { Records } from '../records/store.ts';
import { Claims, recordProblem } from '../records/checks.ts';
import type { Change, RecordState } from '../records/change.ts';
import { checkChange } from './check.ts';
import { HybridClock, readStamp } from './clock.ts';
import { units, type CatchUp, type News, type Receipt } from './protocol.ts';
import { Replica } from './replica.ts';

/** Where a host keeps its changes. A promise that resolves means: still there after a power cut. */
export interface LogPort {
  append(changes: readonly Change[]): Promise<void>;
}

/** A device's clock may run this far ahead before its stamps are corrected. */
const AHEAD_MS = 10 * 60_000;
const KEPT_CHANGES = 20_000;

/** Runs one released app: takes changes, checks, merges, keeps and passes them on. */
export class Host {
  readonly replica: Replica;
  private readonly clock: HybridClock;
  private recent: Change[] = [];
  private at = 0;
  private readonly listeners = new Set<(news: News) => void>();
  private queue: Promise<unknown> = Promise.resolve();

  constructor(
    private app: App,
    private readonly log: LogPort,
    private readonly access: Access = openToLinkHolders,
    private readonly now: () => number = Date.now,
  ) {
    this.replica = new Replica(new Records(app));
    this.clock = new HybridClock('host', now);
  }

  /** Brings back what was kept: states of a snapshot, then the changes logged after it. */
  restore(states: Iterable<RecordState>, changes: Iterable<Change>, at: number): void {
    this.replica.load(states);
    this.at = at;
    for (const c of changes) {
      if (this.replica.apply(c)) this.remember([c]);
    }
  }

  setApp(app: App): void {
    this.app = app;
    this.replica.records.setApp(app);
  }

  get position(): number {
    return this.at;
  }

  private remember(changes: Change[]): void {
    this.recent.push(...changes);
    this.at += changes.length;
    if (this.recent.length > KEPT_CHANGES * 1.5) this.recent = this.recent.slice(-KEPT_CHANGES);
  }

  /** Takes changes from a device. Answers when they are kept; what was refused comes with its reason. */
  accept(changes: readonly Change[], who: Who): Promise<Receipt> {
    const turn = this.queue.then(() => this.take(changes, who));
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private async take(changes: readonly Change[], who: Who): Promise<Receipt> {
    const receipt: Receipt = { accepted: [], refused: [], corrected: [], at: this.at };
    const kept: Change[] = [];
    const claims = new Claims(this.replica.records);
    const fitting: { change: Change; late: boolean }[] = [];
    for (const unit of units(changes)) {
      const refused = this.refusals(unit, who, claims);
      if (refused) receipt.refused.push(...refused);
      else
        for (const c of unit) {
          const late = readStamp(c.stamp).ms > this.now() + AHEAD_MS;
          if (!late) this.clock.saw(c.stamp);
          fitting.push({ change: late ? { ...c, stamp: this.clock.next() } : c, late });
        }
    }
    // First to the log, then to memory: what was never flushed must not be seen by anyone.
    const fresh = fitting.filter((x) => this.isNew(x.change));
    if (fresh.length) await this.log.append(fresh.map((x) => x.change));
    for (const { change, late } of fitting) {
      const effect = this.replica.apply(change);
      if (effect) kept.push(effect);
      if (late) receipt.corrected.push(this.replica.state(change.record)!);
      receipt.accepted.push(change.id);
    }
    const from = this.at;
    this.remember(kept);
    receipt.at = this.at;
    if (kept.length) for (const l of this.listeners) l({ from, at: this.at, changes: kept });
    return receipt;
  }

  /** Why changes that belong together are refused, each with its reason; null when all of them may be made. */
  private refusals(unit: readonly Change[], who: Who, claims: Claims): Receipt['refused'] | null {
    // What a refused group would have claimed, others may have.
    const trial = unit.length > 1 ? claims.copy() : claims;
    const reasons = unit.map((c) => this.access.refusal(who, c) ?? checkChange(this.app, c) ?? this.refused(c, trial));
    const first = reasons.find((r) => r !== null);
    if (first === undefined) {
      claims.take(trial);
      return null;
    }
    return unit.map((c, i) => ({
      id: c.id,
      table: c.table,
      record: c.record,
      reason: reasons[i] ?? `It belongs together with a change that was refused: ${first}`,
      state: this.replica.state(c.record) ?? null,
    }));
  }

  /** What the records refuse, or what an earlier change of the same batch has claimed. */
  private refused(c: Change, claims: Claims): string | null {
    if (c.do !== 'set') return null;
    return (
      recordProblem(this.replica.records, c.table, c.record, c.cells)?.said ??
      claims.claim(c.table, c.record, c.cells)?.said ??
      null
    );
  }

  /** Would merging the change alter anything? A change sent twice is logged once. */
  private isNew(c: Change): boolean {
    const s = this.replica.state(c.record);
    if (!s) return true;
    if (c.do === 'remove') return (s.removed ?? '') < c.stamp;
    if (c.do === 'restore') return (s.restored ?? '') < c.stamp;
    return Object.keys(c.cells).some((f) => !(f in s.cells) || (s.stamps?.[f] ?? s.stamp) < c.stamp);
  }

  /** What a device that has everything up to `since` is missing: the changes, or all records when that is too long ago. */
  catchUp(since: number, who: Who): CatchUp {
    const first = this.at - this.recent.length;
    const readable = (table: string): boolean => this.access.mayRead(who, table);
    if (since > 0 && since >= first && since <= this.at) {
      return { from: since, at: this.at, changes: this.recent.slice(since - first).filter((c) => readable(c.table)) };
    }
    return { at: this.at, states: [...this.replica.all()].filter((s) => readable(s.table)) };
  }

  /** Calls back with every batch of kept changes this person may read. Returns the way to stop it. */
  subscribe(who: Who, listener: (news: News) => void): () => void {
    const filtered = (news: News): void =>
      listener({ ...news, changes: news.changes.filter((c) => this.access.mayRead(who, c.table)) });
    this.listeners.add(filtered);
    return () => this.listeners.delete(filtered);
  }
}
