import { openToLinkHolders, type Access, type AccessTo, type Who } from '../access/access.ts';
import { newId } from '../document/ids.ts';
import type { App } from '../app/schema.ts';
import { zoneClock } from '../formula/zone-clock.ts';
import { Records } from '../records/store.ts';
import { Claims } from '../records/checks.ts';
import type { Change, RecordState } from '../records/change.ts';
import { fieldIds, tableOf } from '../tables/names.ts';
import { Allowed } from './allowed.ts';
import { HybridClock } from './clock.ts';
import type { FilesPort, HostSnapshot, LogPort } from './host-ports.ts';
import { Counts } from './counts.ts';
import { KnownIds } from './known-ids.ts';
import { Formers } from './formers.ts';
import { HostFiles } from './host-files.ts';
import { forGood, isCounted, madeBy, MadeOf, type ForGood, type Making } from './made-of.ts';
import {
  units,
  withoutAuthor,
  type Asked,
  type CatchUp,
  type Compared,
  type Have,
  type News,
  type Receipt,
} from './protocol.ts';
import { pageOf } from './pages.ts';
import { PushQueue, type Push } from './push-queue.ts';
import { Refusals } from './refusals.ts';
import { receiptNow } from './receipt-now.ts';
import { RecentChanges } from './recent.ts';
import { Replica, stampsOf } from './replica.ts';
import { seenWith } from './view.ts';
import { Views } from './views.ts';
import type { Watch } from './watch.ts';
import { laterThan } from './written-later.ts';

export type { FilesPort, HostSnapshot, LogPort } from './host-ports.ts';

/** A change that may be made, and whose it is. */
interface Fitting extends Making {
  /** As the device sent it. */
  sent: Change;
  push: Push;
  receipt: Receipt;
}

/** The log could not keep changes; the cause says why. */
class NotKept extends Error {
  constructor(override readonly cause: unknown) {
    super('The changes could not be kept.');
  }
}

/** Runs one released app: takes changes, checks, merges, keeps and passes them on. */
export class Host {
  readonly replica: Replica;
  private readonly clock: HybridClock;
  private readonly listeners = new Set<(news: News) => void>();
  private readonly queue = new PushQueue((pushes) => this.turn(pushes));
  /** Changes with amounts, and those whose stamps were corrected: sent again, they are not made anew. */
  private readonly known = new KnownIds();
  /** The latest changes, and what runs of its routines have made. */
  readonly recent = new RecentChanges(this.known);
  /** Hears of every change. */
  watch: Watch | null = null;
  private readonly counts = new Counts();
  private readonly uses: HostFiles;
  private readonly formers = new Formers();
  private readonly allowed: Allowed;
  private readonly checks: Refusals;
  private readonly making: MadeOf;
  readonly access: Access;
  /** What people see, where not everybody sees everything. */
  private readonly views: Views | null;

  constructor(
    private app: App,
    private readonly log: LogPort,
    access: AccessTo = openToLinkHolders,
    private readonly now: () => number = Date.now,
    files: FilesPort = { sizeOf: () => null },
  ) {
    // Nobody is there whose clock it could go by.
    const wall = zoneClock(() => this.app.zone, now);
    this.replica = new Replica(new Records(app, wall), false);
    this.uses = new HostFiles(this.replica, files);
    this.clock = new HybridClock('host', now);
    this.making = new MadeOf(this.replica, this.clock, this.counts, this.known);
    this.access = access(this.replica.records, () => this.app);
    this.allowed = new Allowed(this.replica, this.access, this.known);
    this.checks = new Refusals(this.replica, this.known, this.allowed, (c, who) => this.shown(c, who));
    this.views = this.access.isOpen ? null : new Views(this, newId('v'), () => this.at);
  }

  /** Brings back what was kept: what {@link snapshot} gave, then the changes logged after it. `at` is the number of the last. */
  restore(
    states: Iterable<RecordState>,
    changes: readonly Change[],
    at: number,
    { known = [], forgotten = '', runChanges = [] }: Partial<Omit<HostSnapshot, 'states'>> = {},
  ): void {
    this.replica.remembers = true;
    const bare = Array.from(states, ({ amounts, ...state }): RecordState => {
      if (amounts) this.counts.load(state.id, amounts);
      return state;
    });
    this.replica.load(bare);
    this.watch?.restored();
    this.known.forgotten = forgotten;
    for (const [id, stamp] of known) this.known.add(id, stamp);
    this.recent.at = at - changes.length;
    this.recent.runChanges = runChanges;
    for (const c of changes) {
      if (c.do === 'set') this.making.countAgain(c);
      this.allowed.took(c, c.author ?? null, c.sent);
      this.make(c, this.at + 1);
      this.recent.remember([c]);
    }
    // A log from before may bring records back without their cells; from here on they come with them.
    this.replica.forgetRemoved();
    // What the host says later must be later than all it said before.
    for (const s of this.replica.all()) {
      this.uses.note(s.id, s.cells);
      this.formers.note(s);
      for (const stamp of stampsOf(s)) this.clock.saw(stamp);
    }
  }

  setApp(app: App): void {
    this.app = app;
    this.replica.records.setApp(app);
    this.views?.renewed();
  }

  /** Looks again at what goes by the time. */
  tick(): void {
    this.replica.records.tick();
    if (this.views) void this.pause(async () => this.views?.after(this.at, this.at, []));
  }

  /** The fields of a table, by id. */
  fieldsOf(table: string): readonly string[] {
    return fieldIds(tableOf(this.app, table));
  }

  /** All that must be kept of it. The records may be read one by one while it goes on. */
  snapshot(): HostSnapshot {
    const counts = this.counts.snapshot();
    const { replica } = this;
    const states = function* (): Generator<RecordState> {
      for (const s of replica.all()) {
        const amounts = counts.get(s.id);
        yield amounts ? { ...s, amounts } : s;
      }
    };
    const { forgotten } = this.known;
    return { states: states(), known: this.known.list(), forgotten, runChanges: this.recent.runChanges };
  }

  get position(): number {
    return this.at;
  }
  private get at(): number {
    return this.recent.at;
  }

  /** A stamp for a change that the host makes itself. */
  stamp(): string {
    return this.clock.next();
  }

  /**
   * Takes changes from a device. Answers when they are kept; what was refused comes with its reason. Pushes that come
   * while others are being kept are taken together, with one flush.
   */
  accept(changes: readonly Change[], who: Who): Promise<Receipt> {
    return this.queue.push(changes, who);
  }

  /** Takes what waits, and nothing afterwards: `reason` is what it is refused with. */
  close(reason: Error): Promise<void> {
    return this.queue.close(reason);
  }

  /** Does something while no change is being taken. */
  pause<T>(work: () => Promise<T>): Promise<T> {
    return this.queue.pause(work);
  }

  private async turn(pushes: readonly Push[]): Promise<void> {
    const receipts = new Map<Push, Receipt>();
    const kept: Change[] = [];
    let pending: Fitting[] = [];
    /** The records that these change, and those that they add amounts to. */
    const touched = new Set<string>();
    const raised = new Set<string>();
    let claims = new Claims(this.replica.records);
    /** First to the log, then to memory: what was never flushed must not be seen by anyone. */
    const keep = async (): Promise<void> => {
      this.allowed.lift();
      const { done: made, takeBack } = this.counts.trying(() => this.making.of(pending));
      const fresh = made.flatMap((x) => x.changes).filter((c) => isCounted(c) || this.replica.isNew(c));
      if (fresh.length)
        await this.log.append(fresh).catch((e: unknown) => {
          takeBack();
          throw new NotKept(e);
        });
      for (const [i, c] of fresh.entries()) {
        this.make(c, this.at + i + 1);
        if (c.do !== 'remove') this.uses.note(c.record, c.cells ?? {});
      }
      for (const { push, receipt, change, corrected, passed, sent } of made) {
        this.allowed.took(sent, change.author ?? null);
        if (corrected) receipt.corrected.push(...this.shown(change, push.who));
        receipt.accepted.push(change.id);
        if (change.do === 'raise') (receipt.raised ??= []).push(...this.shown(change, push.who));
        // What was written elsewhere meanwhile and later stands; whoever wrote the other is told.
        const counted =
          change.do === 'set' ? Object.keys(change.cells).filter((f) => this.counts.has(change.record, f)) : [];
        const fields = [...passed, ...laterThan(this.replica, change).filter((f) => !counted.includes(f))];
        const [seen] = fields.length ? this.shown(change, push.who) : [];
        const seenFields = fields.filter((f) => this.access.isOpen || (seen && f in seen.cells));
        if (seenFields.length)
          (receipt.overtaken ??= []).push({ table: change.table, record: change.record, fields: seenFields });
      }
      this.recent.remember(fresh);
      if (fresh.length) this.watch?.made(this.at);
      kept.push(...fresh);
      pending = [];
      touched.clear();
      raised.clear();
      claims = new Claims(this.replica.records);
    };
    const from = this.at;
    try {
      for (const push of pushes) {
        const receipt: Receipt = { accepted: [], refused: [], corrected: [], at: this.at };
        receipts.set(push, receipt);
        try {
          for (const unit of units(push.changes)) {
            // Amounts are added to what the changes before them in this turn have made.
            if (unit.some((c) => (c.do === 'raise' ? touched : raised).has(c.record))) await keep();
            const missing = this.uses.missing(this.app, unit, () => this.allowed.reasons(unit, push.who));
            if (missing.length) {
              receipt.wanted = [...(receipt.wanted ?? []), ...missing];
              continue;
            }
            let refused = this.checks.of(this.app, unit, push.who, claims);
            // What stands in its way may be gone by what came before it in this turn.
            if (refused && pending.length) {
              await keep();
              refused = this.checks.of(this.app, unit, push.who, claims);
            }
            if (refused) receipt.refused.push(...refused);
            else {
              for (const c of unit) {
                pending.push({ push, receipt, sent: c, ...this.stamped(c, push.who) });
                touched.add(c.record);
                if (c.do === 'raise') raised.add(c.record);
              }
              this.allowed.lay(unit);
            }
          }
        } catch (e) {
          if (e instanceof NotKept) throw e;
          // What nobody foresaw in one device's changes is that device's trouble, and not the others'.
          receipts.delete(push);
          pending = pending.filter((x) => x.push !== push);
          this.allowed.lift();
          this.allowed.lay(pending.map((x) => x.change));
          push.reject(e);
        }
      }
      await keep();
    } catch (e) {
      this.allowed.lift();
      // Nothing of the turn is promised to anyone; what of it was kept before is known when it is sent again.
      for (const p of receipts.keys()) p.reject(e instanceof NotKept ? e.cause : e);
      receipts.clear();
    }
    if (kept.length) this.tell(from, kept);
    for (const [push, receipt] of receipts) push.resolve(this.asNow(push, receipt));
  }

  private make(c: Change, at: number): void {
    this.watch?.before(c);
    this.replica.apply(c);
    this.watch?.after(c, at);
  }

  private tell(from: number, kept: readonly Change[]): void {
    const news = { from, at: this.at, changes: kept.map(withoutAuthor) };
    for (const l of this.listeners) l(news);
    this.views?.after(from, this.at, kept);
  }

  /**
   * Makes changes that neither rules nor checks can refuse, which let go of something for good. Nothing that was told
   * before is told again: devices that come later compare what they have, or fetch all records.
   */
  letGo(work: () => readonly ForGood[]): Promise<void> {
    return this.pause(async () => {
      const changes = forGood(work(), () => this.clock.next());
      await this.log.append(changes);
      for (const c of changes) {
        this.replica.apply(c);
        this.counts.drop(c.do === 'remove' ? c.record : '');
        this.formers.note(this.replica.state(c.record)!);
      }
      this.recent.remember(changes);
      this.watch?.made(this.at);
      this.tell(this.at - changes.length, changes);
      this.recent.forget();
      this.allowed.forgetTaken();
      this.views?.forgetNews();
    });
  }

  /** A receipt as it is after the turn. In an open app the states are those that the turn went on to change. */
  private asNow({ changes, who }: Push, receipt: Receipt): Receipt {
    const { at, formers } = this;
    if (this.access.isOpen && formers.isEmpty) return { ...receipt, at };
    return receiptNow(receipt, changes, at, formers, (of) => this.shown(of, who));
  }

  /** Does a record that this person may read hold the file? */
  mayReadFile(who: Who, hash: string): boolean {
    return this.uses.isSeen(hash, (s) => this.seen(s, who));
  }

  /** Does any record hold the file? */
  usesFile(hash: string): boolean {
    return this.uses.isUsed(hash);
  }

  /** A change with a stamp that the host stands for: one far ahead of the time is brought back to now. */
  private stamped(change: Change, who: Who): Pick<Fitting, 'change' | 'corrected' | 'isKnown'> {
    const without = this.formers.in(change);
    const c = madeBy(without, who, this.access.personOf(who));
    if (this.known.has(c.id)) return { change: c, corrected: c.do !== 'raise', isKnown: true };
    const corrected = !this.clock.takes(c.stamp);
    if (corrected) return { change: { ...c, stamp: this.clock.next(), sent: c.stamp }, corrected, isKnown: false };
    this.clock.saw(c.stamp);
    return { change: c, corrected, isKnown: false };
  }

  /** The record of a change, as far as whoever sent it may see it. */
  private shown(change: Pick<Change, 'table' | 'record'>, who: Who): RecordState[] {
    const state = this.replica.state(change.record);
    const seen = state && state.table === change.table ? this.seen(state, who) : null;
    return seen ? [seen] : [];
  }

  /** A record, as far as this person may read it. */
  private seen(state: RecordState, who: Who): RecordState | null {
    return this.access.isOpen ? state : seenWith(this, this.access.rights(who), state);
  }

  /**
   * What a device is missing: the changes, or all records when it has none or was away too long; those come in pages.
   * Where it may not have all of them, it is asked to {@link compare}.
   */
  async catchUp({ since, view, from = 0 }: Asked, who: Who): Promise<CatchUp> {
    const { views } = this;
    // In the middle of a turn somebody's rights may be others already than what they have been told.
    if (views) return this.pause(async () => views.newsSince(who, since, view) ?? { compare: true });
    const changes = from === 0 && since > 0 && view === undefined ? this.recent.since(since) : null;
    // Whoever has had a view of it, from when it was not open, does not have what that did not show.
    if (changes) return { from: since, at: this.at, changes };
    return pageOf(this.replica.all(), from, this.at);
  }

  /** What a device must have in place of what it has, id by id. */
  async compare(have: Have, who: Who): Promise<Compared> {
    const { views } = this;
    if (!views) throw new Error('This app is open: a device has its records by pages.');
    return this.pause(async () => views.compare(who, have));
  }

  /** The view that somebody sees now; none where the app is open. */
  viewOf(who: Who): string | undefined {
    return this.views?.nameFor(who);
  }

  /**
   * Calls back with every batch of kept changes, as far as this person may read them; all who may read the same get the
   * same object. Returns the way to stop it.
   */
  subscribe(who: Who, listener: (news: News) => void): () => void {
    if (this.views) return this.views.subscribe(who, listener);
    // Each has a place of its own, also where one listens twice.
    const heard = (news: News): void => listener(news);
    this.listeners.add(heard);
    return () => this.listeners.delete(heard);
  }
}
