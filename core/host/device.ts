import { newId } from '../document/ids.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { cellsAfter } from '../records/raise.ts';
import type { Records } from '../records/store.ts';
import { HybridClock } from './clock.ts';
import { KeptAlong } from './kept-along.ts';
import { OfflineError, type DeviceStore, type HostLink, type Sending } from './link.ts';
import type { CatchUp, News, Overtaken } from './protocol.ts';
import { cellsBefore, stampsOf, type Replica } from './replica.ts';

export interface Refusal {
  change: Change;
  reason: string;
}

/**
 * A phone, or the studio of a released app: writes to itself first and sends later. What the host refuses is
 * rolled back and told.
 */
export class Device {
  readonly clock: HybridClock;
  private count = 0;
  private working: Promise<void> | null = null;
  private again = false;
  onRefused: (refusals: Refusal[]) => void = () => {};
  /** Hears of cells written here that were written elsewhere with a later stamp: those stand. */
  onOvertaken: (overtaken: Overtaken[]) => void = () => {};
  /** Hears that something waits to be sent, whatever wrote it. */
  onQueued: () => void = () => {};
  /** Hears of files on their way, and null when none is. */
  onSending: (sending: Sending | null) => void = () => {};

  /** Hears in words that something could not be kept on this device; the app goes on from memory. */
  onUnkept: (why: string) => void = () => {};
  /** Hears why a file waits, where the host does not take it now. */
  onHeld: (why: string) => void = () => {};
  readonly kept: KeptAlong;
  /** What the news told as overtaken since sending began; the answer says the same. */
  readonly told = new Set<string>();

  constructor(
    readonly id: string,
    readonly replica: Replica,
    store: DeviceStore,
    private link: HostLink | null,
    /** The changes that wait to be sent, in their order. */
    public queue: Change[] = [],
    /** Number of the last change of the host that is here. */
    public position = 0,
    now: () => number = Date.now,
    /** Changes that the released app does not know yet wait for the next release. */
    public sendable: (c: Change) => boolean = () => true,
  ) {
    this.clock = new HybridClock(id, now);
    this.kept = new KeptAlong(
      store,
      (ids) => this.statesOf(ids),
      (why) => this.onUnkept(why),
    );
    this.sawAll();
  }

  /** Takes note of every stamp that is here. */
  sawAll(): void {
    for (const s of this.replica.all()) this.saw(s);
  }

  /** Takes note of every stamp of a record, since each of its cells may have been written at another time. */
  saw(state: RecordState): void {
    for (const stamp of stampsOf(state)) this.clock.saw(stamp);
  }

  get waiting(): number {
    return this.queue.length;
  }

  /** Is there a host, to which changes are sent? */
  get hasHost(): boolean {
    return this.link !== null;
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
          id: this.nextId(),
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
    for (const change of queued) this.queue.push(change);
    await this.kept.save({ records: touched, queued });
    if (queued.length) this.onQueued();
    return made;
  }

  /** A name for a change of this device. */
  nextId(): string {
    return `${this.id}:${Date.now().toString(36)}:${this.count++}`;
  }

  /** What is brought back goes out with what it had, since nobody else has it. */
  private whole(d: Draft): Draft {
    const state = d.do === 'restore' && !d.cells ? this.replica.state(d.record) : undefined;
    return d.do === 'restore' ? { ...d, cells: d.cells ?? (state ? cellsBefore(state) : {}) } : d;
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

  /** Sends all that waits. */
  private async pushAll(): Promise<void> {
    if (!this.link || this.queue.length === 0) return;
    const { Sender } = await import('./sender.ts').catch(() => {
      throw new OfflineError('What sends changes is not on this device yet.');
    });
    await new Sender(this).pushAll(this.link);
  }

  private async pull(): Promise<void> {
    if (!this.link) return;
    const { link } = this;
    const news = await link.pull(this.position);
    if (!('next' in news) || news.next === undefined) return this.take(news);
    // What happened while the pages came is fetched after the last, from where the first one stood.
    let page: CatchUp = news;
    while ('states' in page) {
      await this.take({ ...page, at: page.next === undefined ? news.at : this.position });
      if (page.next === undefined) break;
      page = await link.pull(this.position, page.next);
    }
    if (this.position < page.at) this.again = true;
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
    if (news.from > this.position) return this.sync();
    if (news.at > this.position) await this.take(news);
  }

  private async take(news: CatchUp): Promise<void> {
    const touched = new Set<string>();
    const sent: string[] = [];
    const passed: Overtaken[] = [];
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
            // A field that the host says nothing of was set later than the amount was added.
            const cells = c.do === 'remove' ? {} : c.cells;
            const fields = Object.keys(own.by).filter((f) => !cells || !(f in cells));
            this.replica.settled(own, fields);
            if (fields.length) passed.push({ table: own.table, record: own.record, fields });
            sent.push(own.id);
            touched.add(own.record);
          }
          if (this.replica.hear(c)) touched.add(c.record);
        }
      }
    });
    this.position = news.at;
    await this.kept.save({ records: touched, at: this.position, sent });
    for (const o of passed) this.told.add(JSON.stringify(o));
    if (passed.length) this.onOvertaken(passed);
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
export const runOf = (device: string): string => `${device}${newId('x').slice(-RUN_LETTERS)}`;
const RUN_LETTERS = 4;
/** Whether two names are of runs of one device. */
export const isSameDevice = (a: string, b: string): boolean =>
  a === b || (a.length > RUN_LETTERS && a.slice(0, -RUN_LETTERS) === b.slice(0, -RUN_LETTERS));
/** A name for a new record. */
export const newRecordId = (): string => newId('r');
