import { newId } from '../document/ids.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { lettersOf } from '../fields/lists.ts';
import { cellsAfter } from '../records/raise.ts';
import type { Records } from '../records/store.ts';
import { HybridClock } from './clock.ts';
import { KeptAlong } from './kept-along.ts';
import { NeverTakenError, OfflineError, type DeviceStore, type HostLink, type Sending } from './link.ts';
import { units, type CatchUp, type News, type Overtaken, type Receipt } from './protocol.ts';
import { cellsBefore, stampsOf, type Replica } from './replica.ts';

export interface Refusal {
  change: Change;
  reason: string;
}

const BATCH = 500;
const BATCH_LETTERS = 2_000_000;

/**
 * A phone, or the studio of a released app: writes to itself first and sends later. What the host refuses is
 * rolled back and told.
 */
export class Device {
  private readonly clock: HybridClock;
  private count = 0;
  private working: Promise<void> | null = null;
  private again = false;
  onRefused: (refusals: Refusal[]) => void = () => {};
  /** Hears of cells written here that were written elsewhere with a later stamp: those stand. */
  onOvertaken: (overtaken: Overtaken[]) => void = () => {};
  /** Hears of files on their way, and null when none is. */
  onSending: (sending: Sending | null) => void = () => {};

  /** Hears in words that something could not be kept on this device; the app goes on from memory. */
  onUnkept: (why: string) => void = () => {};
  /** Hears why a file waits, where the host does not take it now. */
  onHeld: (why: string) => void = () => {};
  private readonly kept: KeptAlong;

  constructor(
    readonly id: string,
    readonly replica: Replica,
    store: DeviceStore,
    private link: HostLink | null,
    private queue: Change[] = [],
    private at = 0,
    now: () => number = Date.now,
    /** Changes that the released app does not know yet wait for the next release. */
    private sendable: (c: Change) => boolean = () => true,
  ) {
    this.clock = new HybridClock(id, now);
    this.kept = new KeptAlong(
      store,
      (ids) => this.statesOf(ids),
      (why) => this.onUnkept(why),
    );
    this.sawAll();
  }

  private sawAll(): void {
    for (const s of this.replica.all()) this.saw(s);
  }

  /** Takes note of every stamp of a record, since each of its cells may have been written at another time. */
  private saw(state: RecordState): void {
    for (const stamp of stampsOf(state)) this.clock.saw(stamp);
  }

  get waiting(): number {
    return this.queue.length;
  }

  get position(): number {
    return this.at;
  }

  /** Connects to a host, or to none. */
  connect(link: HostLink | null, sendable: (c: Change) => boolean = () => true): void {
    this.link = link;
    this.sendable = sendable;
  }

  /**
   * Makes changes: shown at once, kept on the device, sent when there is a way. Resolves when kept. What is written
   * together the host takes or refuses as one.
   */
  async write(drafts: readonly Draft[], together = false): Promise<Change[]> {
    const made: Change[] = [];
    const group = together && drafts.length > 1 ? `${this.id}:g${Date.now().toString(36)}:${this.count++}` : undefined;
    const touched = new Set<string>();
    this.replica.records.batch(() => {
      for (const d of drafts) {
        const change: Change = {
          // Without a host nobody else adds to it: the sum is written.
          ...(d.do === 'raise' && !this.link ? asSet(this.replica.records, d) : this.whole(d)),
          id: `${this.id}:${Date.now().toString(36)}:${this.count++}`,
          stamp: this.clock.next(),
          ...(group !== undefined && { group }),
        };
        if (this.replica.apply(change)) {
          made.push(change);
          touched.add(change.record);
        }
      }
    });
    // Without a host there is nothing to send later: a release sends all records.
    const queued = this.link ? made : [];
    this.queue.push(...queued);
    await this.kept.save({ records: touched, queued });
    return made;
  }

  /** What is brought back goes out with what it had, since nobody else has it. */
  private whole(d: Draft): Draft {
    const state = d.do === 'restore' && !d.cells ? this.replica.state(d.record) : undefined;
    return d.do === 'restore' ? { ...d, cells: d.cells ?? (state ? cellsBefore(state) : {}) } : d;
  }

  /** Takes many new records at once, as an import brings them. `progress` hears how many are kept. */
  async bring(
    records: readonly { table: string; id: string; cells: RecordState['cells'] }[],
    progress: (kept: number) => void = () => {},
  ): Promise<void> {
    const states = records.map((r): RecordState => ({
      table: r.table,
      id: r.id,
      cells: r.cells,
      stamp: this.clock.next(),
    }));
    const queued = this.link ? states.flatMap((s) => this.changesOf(s)) : [];
    for (let i = 0; i < states.length; i += 5000) {
      const part = states.slice(i, i + 5000);
      await this.kept.bulk({ states: part, queued: queued.slice(i, i + 5000) });
      progress(Math.min(states.length, i + 5000));
    }
    this.queue.push(...queued);
    this.replica.load(states);
  }

  /** Puts every record in the queue, as the first release of an app needs it. */
  async queueAll(): Promise<void> {
    // In the order the records were made, so that they stand in it everywhere.
    const states = [...this.replica.all()].sort((a, b) => (a.stamp < b.stamp ? -1 : 1));
    const queued = states.flatMap((s) => this.changesOf(s));
    this.queue = queued;
    this.at = 0;
    await this.kept.save({ queued, at: 0 });
  }

  /** The changes that make a record what it is: one for each stamp its cells have. */
  private changesOf(s: RecordState): Change[] {
    const byStamp = new Map<string, RecordState['cells']>();
    for (const [field, cell] of Object.entries(s.cells)) {
      const stamp = s.stamps?.[field] ?? s.stamp;
      const cells = byStamp.get(stamp) ?? {};
      cells[field] = cell;
      byStamp.set(stamp, cells);
    }
    const id = (): string => `${this.id}:${Date.now().toString(36)}:${this.count++}`;
    const base = { table: s.table, record: s.id };
    const changes: Change[] = Array.from(byStamp, ([stamp, cells]) => ({
      ...base,
      id: id(),
      stamp,
      do: 'set' as const,
      cells,
    }));
    if (s.removed) changes.push({ ...base, id: id(), stamp: s.removed, do: 'remove' });
    if (s.restored) changes.push({ ...base, id: id(), stamp: s.restored, do: 'restore', cells: {} });
    return changes;
  }

  private statesOf(ids: Iterable<string>): RecordState[] {
    return [...ids].flatMap((id) => this.replica.state(id) ?? []);
  }

  /** Sends what waits and fetches what is new. Calls while it runs make it run once more. */
  sync(): Promise<void> {
    if (this.working) {
      this.again = true;
      return this.working;
    }
    this.working = (async () => {
      try {
        do {
          this.again = false;
          this.tried.clear();
          // What cannot be sent keeps nobody from hearing the news.
          let failed: unknown = null;
          await this.pushAll().catch((e: unknown) => (failed = e));
          if (failed instanceof OfflineError) throw failed;
          await this.pull();
          if (failed) throw failed;
        } while (this.again);
      } finally {
        this.working = null;
      }
    })();
    return this.working;
  }

  /**
   * Sends all that waits. What waits for a file of its own that the host does not take now stays behind, and holds up
   * nothing else.
   */
  private async pushAll(): Promise<void> {
    const later = new Set<string>();
    for (;;) {
      const { link } = this;
      if (!link) return;
      const batch = this.nextBatch(later);
      if (batch.length === 0) return;
      const wanted = new Set(await this.push(link, batch));
      if (wanted.size === 0) continue;
      const { unitsWithFiles } = await import('./send-files.ts');
      const waits = unitsWithFiles(batch, wanted);
      const missing = await this.sendFiles(link, waits.flat(), wanted);
      // Those whose files are there now go once more; a file that is asked for again after that is not taken now.
      const stay = new Set(unitsWithFiles(batch, missing).flat());
      for (const c of waits.flat()) {
        if (stay.has(c) || this.tried.has(c.id)) later.add(c.id);
        this.tried.add(c.id);
      }
    }
  }
  /** Changes whose files were sent in this round already. */
  private readonly tried = new Set<string>();

  /** Sends files that the host waits for; gives the hashes of those that it does not take now. */
  private async sendFiles(
    link: HostLink,
    changes: readonly Change[],
    wanted: ReadonlySet<string>,
  ): Promise<ReadonlySet<string>> {
    const { sendFiles } = await import('./send-files.ts');
    try {
      const { never, later } = await sendFiles(link, this.kept.store, changes, wanted, (s) => this.onSending(s));
      for (const { holds, why } of never)
        await this.setAside(
          units(this.queue)
            .filter((u) => u.some(holds))
            .flat(),
          why,
        );
      const [first] = later.values();
      if (first !== undefined) this.onHeld(first);
      return new Set(later.keys());
    } finally {
      this.onSending(null);
    }
  }

  /** Takes changes out of the queue that the host will never take. What they wrote stays on this device. */
  private async setAside(changes: readonly Change[], why: string): Promise<void> {
    const gone = new Set(changes.map((c) => c.id));
    this.queue = this.queue.filter((c) => !gone.has(c.id));
    await this.kept.save({ sent: [...gone] });
    const reason = `${why} It stays on this device and reaches no other.`;
    this.onRefused(changes.map((change) => ({ change, reason })));
  }

  /**
   * Sends changes, and gives the hashes of files that the host wants first. Of changes that it will not even look at, the
   * ones to blame are found and set aside, so that everything behind them goes on.
   */
  private async push(link: HostLink, batch: Change[]): Promise<string[]> {
    let receipt: Receipt;
    try {
      receipt = await link.push(batch);
    } catch (e) {
      if (!(e instanceof NeverTakenError)) throw e;
      const parts = units(batch);
      if (parts.length > 1) {
        const half = parts.length >> 1;
        const first = await this.push(link, parts.slice(0, half).flat());
        return [...first, ...(await this.push(link, parts.slice(half).flat()))];
      }
      await this.setAside(batch, e.message);
      return [];
    }
    await this.settle(batch, receipt);
    return receipt.wanted ?? [];
  }

  /** As much of the queue as is sent at once. What belongs together is never divided. */
  private nextBatch(later: ReadonlySet<string>): Change[] {
    const batch: Change[] = [];
    let size = 0;
    for (const unit of units(this.queue)) {
      if (!unit.every((c) => this.sendable(c) && !later.has(c.id))) continue;
      size += unit.reduce((n, c) => n + (c.do === 'remove' ? 0 : lettersOf(c.cells ?? {})), 0);
      if (batch.length > 0 && (batch.length + unit.length > BATCH || size > BATCH_LETTERS)) break;
      batch.push(...unit);
    }
    return batch;
  }

  private async settle(batch: Change[], receipt: Receipt): Promise<void> {
    const refusals = new Map(receipt.refused.map((r) => [r.id, r]));
    const answered = new Set([...receipt.accepted, ...refusals.keys()]);
    this.queue = this.queue.filter((c) => !answered.has(c.id));
    const back = new Map<string, { table: string; state: RecordState | null }>();
    for (const r of receipt.refused) back.set(r.record, { table: r.table, state: r.state });
    for (const s of [...receipt.corrected, ...(receipt.raised ?? [])]) back.set(s.id, { table: s.table, state: s });
    for (const c of batch) if (c.do === 'raise' && answered.has(c.id) && !back.has(c.record)) this.replica.settled(c);
    if (receipt.corrected.length) {
      // This clock ran far ahead. What is later than all that stands now is late enough.
      this.clock.forget();
      for (const c of this.queue) this.clock.saw(c.stamp);
    }
    const gone: string[] = [];
    this.replica.records.batch(() => {
      for (const [id, { table, state }] of back) {
        this.replica.replace(table, id, state);
        for (const c of this.queue) if (c.record === id) this.replica.apply(c);
        if (!this.replica.state(id)) gone.push(id);
      }
    });
    if (receipt.corrected.length) this.sawAll();
    else for (const { state } of back.values()) if (state) this.saw(state);
    await this.kept.save({ sent: [...answered], records: back.keys(), gone });
    const told = batch.flatMap((change) => {
      const r = refusals.get(change.id);
      return r ? [{ change, reason: r.reason }] : [];
    });
    if (told.length) this.onRefused(told);
    if (receipt.overtaken?.length) this.onOvertaken(receipt.overtaken);
  }

  private async pull(): Promise<void> {
    if (!this.link) return;
    const { link } = this;
    const news = await link.pull(this.at);
    if (!('next' in news) || news.next === undefined) return this.take(news);
    // What happened while the pages came is fetched after the last, from where the first one stood.
    let page: CatchUp = news;
    while ('states' in page) {
      await this.take({ ...page, at: page.next === undefined ? news.at : this.at });
      if (page.next === undefined) break;
      page = await link.pull(this.at, page.next);
    }
    if (this.at < page.at) this.again = true;
  }

  /** An amount of this device that is part of the news: it waits no more, its answer may still be on its way. */
  private ownAmount(id: string): Extract<Change, { do: 'raise' }> | null {
    const own = this.queue.find((c) => c.id === id);
    if (own?.do !== 'raise') return null;
    this.queue = this.queue.filter((c) => c !== own);
    return own;
  }

  /** Takes what the host sent by itself. A gap before it is fetched. */
  async receive(news: News): Promise<void> {
    if (news.from > this.at) return this.sync();
    if (news.at > this.at) await this.take(news);
  }

  private async take(news: CatchUp): Promise<void> {
    const touched = new Set<string>();
    const sent: string[] = [];
    this.replica.records.batch(() => {
      if ('states' in news && news.states.every((s) => !this.replica.state(s.id))) {
        this.replica.load(news.states);
        for (const s of news.states) {
          this.saw(s);
          touched.add(s.id);
        }
      } else if ('states' in news) {
        for (const s of news.states) {
          this.saw(s);
          if (this.replica.hearState(s)) touched.add(s.id);
        }
      } else {
        for (const c of news.changes) {
          this.clock.saw(c.stamp);
          const own = this.ownAmount(c.id);
          if (own) {
            this.replica.settled(own);
            sent.push(own.id);
            touched.add(own.record);
          }
          if (this.replica.hear(c)) touched.add(c.record);
        }
      }
    });
    this.at = news.at;
    await this.kept.save({ records: touched, at: this.at, sent });
  }
}

/** An amount as the value that comes of it. */
const asSet = (records: Records, { table, record, ...d }: Extract<Draft, { do: 'raise' }>): Draft => ({
  do: 'set',
  table,
  record,
  cells: cellsAfter(records, { table, record, ...d }),
});

/** A name for a new device. */
export const newDeviceId = (): string => newId('d').replace('_', '');
/** A name for one run of a device: two tabs of one browser must never give the same stamp. */
export const runOf = (device: string): string => `${device}${newId('x').slice(-4)}`;
/** A name for a new record. */
export const newRecordId = (): string => newId('r');
