import { once } from '../document/once.ts';
import { newId } from '../document/ids.ts';
import { deviceClock } from '../document/time.ts';
import type { PhoneRules } from '../access/phone-rules.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { cellsAfter } from '../records/raise.ts';
import type { Records } from '../records/store.ts';
import { HybridClock } from './clock.ts';
import { KeptAlong } from './kept-along.ts';
import { OfflineError, type DeviceStore, type HostLink, type Sending } from './link.ts';
import type { News, Overtaken, Page } from './protocol.ts';
import { cellsBefore, stampsOf, type Replica } from './replica.ts';

export interface Refusal {
  change: Change;
  reason: string;
}

/** What a device begins with. */
export interface DeviceOptions {
  /** Its name for this run; see {@link runOf}. */
  id: string;
  replica: Replica;
  store: DeviceStore;
  link?: HostLink | null;
  /** Changes that wait to be sent, in their order. */
  queue?: Change[];
  /** Number of the last change of the host that is here, and the view of the records in which it is. */
  at?: number | undefined;
  view?: string | undefined;
  now?: () => number;
}

/**
 * A phone, or the studio of a released app: writes to itself first and sends later. What the host refuses is
 * rolled back and told.
 */
export class Device {
  readonly clock: HybridClock;
  private count = 0;
  private working: Promise<void> | null = null;
  private onceMore = false;
  onRefused: (refusals: Refusal[]) => void = () => {};
  /** Hears of cells written here that were written elsewhere with a later stamp: those stand. */
  onOvertaken: (overtaken: Overtaken[]) => void = () => {};
  /** Hears that something waits to be sent, whatever wrote it. */
  onQueued: () => void = () => {};
  /** Hears what its person may do, whenever that is told; null where it is everything. */
  onMay: (may: PhoneRules | null) => void = () => {};
  /** Hears of files on their way, and null when none is. */
  onSending: (sending: Sending | null) => void = () => {};

  /** Hears in words what could not be kept on this device, while it goes on from memory; and why a file waits. */
  onSaid: (why: string) => void = () => {};
  readonly kept: KeptAlong;
  /** What the news told as overtaken since sending began; the answer says the same. */
  readonly overtakenHeard = new Set<string>();

  readonly id: string;
  readonly replica: Replica;
  private link: HostLink | null;
  /** The changes that wait to be sent, in their order. */
  queue: Change[];
  /** Number of the last change of the host that is here. */
  position: number;
  /** What this device may see of the records, by the name that the host has for it; none where an app is open to all. */
  view: string | undefined;
  /** Changes that the released app does not know yet wait for the next release. */
  sendable: (c: Change) => boolean = () => true;
  private readonly now: () => number;

  constructor(o: DeviceOptions) {
    this.id = o.id;
    this.replica = o.replica;
    this.link = o.link ?? null;
    this.queue = o.queue ?? [];
    this.position = o.at ?? 0;
    this.view = o.view || undefined;
    this.now = o.now ?? deviceClock.now;
    this.clock = new HybridClock(o.id, this.now);
    this.kept = new KeptAlong(
      o.store,
      (ids) => this.statesOf(ids),
      (why) => this.onSaid(why),
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
   * together the host takes or refuses as one. `wrote` is the name of what a routine asked to be
   * written, kept with it.
   */
  async write(drafts: readonly Draft[], together = false, wrote?: string): Promise<Change[]> {
    const made: Change[] = [];
    const group = together && drafts.length > 1 ? `${this.id}:g${this.now().toString(36)}:${this.count++}` : undefined;
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
    await this.kept.save({ records: touched, queued, wrote });
    if (queued.length) this.onQueued();
    return made;
  }

  /** A name for a change of this device. */
  nextId(): string {
    return `${this.id}:${this.now().toString(36)}:${this.count++}`;
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
      this.onceMore = true;
      return this.working;
    }
    this.working = (async () => {
      try {
        do {
          this.onceMore = false;
          // What cannot be sent keeps nobody from hearing the news.
          let failed: unknown = null;
          await this.pushAll().catch((e: unknown) => (failed = e));
          if (failed instanceof OfflineError) throw failed;
          await this.pull();
          if (failed) throw failed;
        } while (this.onceMore);
      } finally {
        this.working = null;
      }
    })();
    return this.working;
  }

  /** Sends all that waits. */
  private async pushAll(): Promise<void> {
    if (!this.link || this.queue.length === 0) return;
    const { Sender } = await sending();
    await new Sender(this).pushAll(this.link);
  }

  private async pull(): Promise<void> {
    if (!this.link) return;
    const { link } = this;
    const news = await link.pull({ since: this.position, view: this.view });
    if ('compare' in news) return (await inViews()).compare(this, link);
    if (!('states' in news)) {
      // Where news came by themselves meanwhile, what is missing is fetched once more.
      if (!(await this.take(news))) this.onceMore = true;
      return;
    }
    // What happened while the pages came is fetched after the last, from where the first one stood.
    const { at } = news;
    for (let page: Page = news; ;) {
      const { next } = page;
      await this.takePage(page, next === undefined ? at : this.position);
      if (next === undefined) return void (this.onceMore ||= page.at > at);
      page = (await link.pull({ since: this.position, from: next })) as Page;
    }
  }

  /** An amount of this device that is part of the news: it waits no more, its answer may still be on its way. */
  private ownAmount(id: string): Extract<Change, { do: 'raise' }> | null {
    const own = this.queue.find((c) => c.id === id);
    if (own?.do !== 'raise') return null;
    this.queue = this.queue.filter((c) => c !== own);
    return own;
  }

  /** Takes what the host sent by itself. What was missed before it is fetched. */
  async receive(news: News): Promise<void> {
    if (this.comparing || news.from > this.position || (news.was ?? news.view) !== this.view) return this.sync();
    // What the time alone has changed comes behind the last change that is here.
    const isByTime = news.at === this.position && (news.forget ?? news.given) !== undefined;
    if ((news.at > this.position || isByTime || news.was !== undefined) && !(await this.take(news))) return this.sync();
  }
  /** What is here is being compared with what the host has; what is new meanwhile is fetched afterwards. */
  comparing = false;

  private async takePage(page: Page, at: number): Promise<void> {
    const touched = new Set<string>();
    const isFirst = page.states.every((s) => !this.replica.state(s.id));
    const erased = isFirst ? [] : [...this.replica.all(), ...page.states].filter((s) => 'erased' in s);
    const forget = erased.length ? (await inViews()).forgetErased(this, erased) : null;
    this.replica.records.batch(() => {
      if (isFirst) this.replica.load(page.states);
      for (const s of page.states) {
        this.saw(s);
        if (isFirst || this.replica.hearState(s)) touched.add(s.id);
      }
    });
    forget?.();
    this.position = at;
    // Pages come from a host that shows everybody everything: there is no view of it.
    this.view = undefined;
    this.onMay(null);
    await this.kept.save({ records: touched, at, view: '', may: null });
  }

  /** Gives false where the news do not follow on what is here any more. */
  private async take(news: News): Promise<boolean> {
    let forget = (): void => undefined;
    const erased = news.changes.flatMap((c) => ('erased' in c ? { ...c, id: c.record } : []));
    if (news.forget || news.given || erased.length) {
      const { forgetErased, takeGiven } = await inViews();
      // Meanwhile other news may have come.
      if (news.from > this.position || news.at < this.position) return false;
      forget = forgetErased(this, erased);
      takeGiven(this, news);
    }
    const touched = new Set<string>();
    const sent: string[] = [];
    const passed: Overtaken[] = [];
    this.replica.records.batch(() => {
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
    });
    forget();
    this.position = news.at;
    this.view = news.view;
    const { may } = news;
    if (may !== undefined) this.onMay(may);
    await this.kept.save({ records: touched, at: this.position, view: this.view, may, sent });
    for (const o of passed) this.overtakenHeard.add(JSON.stringify(o));
    if (passed.length) this.onOvertaken(passed);
    return true;
  }
}

/** A part of this that is fetched when it is needed. */
const late = <T>(part: () => Promise<T>): (() => Promise<T>) => {
  const fetched = once(part);
  return () =>
    fetched().catch(() => {
      throw new OfflineError('A part of the app is not on this device yet.');
    });
};
const sending = late(() => import('./sender.ts'));
/** What only devices do that may not see everything. */
const inViews = late(() => import('./in-views.ts'));

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
