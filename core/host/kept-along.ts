import type { PhoneRules } from '../access/phone-rules.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { DeviceStore } from './link.ts';

/** What a device keeps of something that happened. */
interface Update {
  /** Records that are different now. */
  records?: Iterable<string>;
  gone?: readonly string[];
  queued?: readonly Change[];
  sent?: readonly string[];
  at?: number;
  view?: string | undefined;
  may?: PhoneRules | null | undefined;
  /** The name of what a routine asked to be written. */
  wrote?: string | undefined;
}

/**
 * Keeps what happens to a device. What could not be kept, because the store is full or broken, is kept with what comes
 * next: so the position of a device never stands behind records that its store does not have.
 */
export class KeptAlong {
  private readonly records = new Set<string>();
  private readonly gone = new Set<string>();
  private queued: Change[] = [];
  private readonly sent = new Set<string>();
  private wrote: string[] = [];
  private at: number | undefined;
  private view: string | undefined;
  private may: PhoneRules | null | undefined;
  private behind = false;

  constructor(
    readonly store: DeviceStore,
    private readonly statesOf: (ids: Iterable<string>) => RecordState[],
    private readonly unkept: (why: string) => void,
  ) {}

  /** Resolves when it is kept, or it was told that it is not. */
  save(u: Update): Promise<void> {
    for (const id of u.gone ?? []) {
      this.records.delete(id);
      this.gone.add(id);
    }
    // What is gone goes first, so that a record may be both: nothing of it from before stays.
    for (const id of u.records ?? []) this.records.add(id);
    for (const id of u.sent ?? []) this.sent.add(id);
    this.queued = [...this.queued, ...(u.queued ?? [])].filter((c) => !this.sent.has(c.id));
    if (u.wrote) this.wrote.push(u.wrote);
    if (u.at !== undefined) this.at = u.at;
    if (u.view !== undefined) this.view = u.view;
    if (u.may !== undefined) this.may = u.may;
    // One after the other: what comes meanwhile goes along with the next.
    this.turn = this.turn.then(() => this.flush());
    return this.turn;
  }
  private turn: Promise<void> = Promise.resolve();

  private async flush(): Promise<void> {
    if (
      !this.wrote.length &&
      !this.records.size &&
      !this.gone.size &&
      !this.queued.length &&
      !this.sent.size &&
      this.at === undefined
    )
      return;
    const update = {
      states: this.statesOf(this.records),
      gone: [...this.gone],
      queued: this.queued,
      sent: [...this.sent],
      wrote: this.wrote,
      ...(this.at !== undefined && { at: this.at }),
      ...(this.view !== undefined && { view: this.view }),
      ...(this.may !== undefined && { may: this.may }),
    };
    const { at, view, may } = this;
    const had = { records: [...this.records], gone: update.gone, sent: update.sent, at, view, may };
    // What comes while this is on its way is kept by itself; only what fails is taken along.
    this.clear();
    try {
      await this.store.save(update);
      this.behind = false;
    } catch (e) {
      for (const id of had.records) this.records.add(id);
      for (const id of had.gone) this.gone.add(id);
      for (const id of had.sent) this.sent.add(id);
      this.queued = [...update.queued, ...this.queued].filter((c) => !this.sent.has(c.id));
      this.wrote = [...update.wrote, ...this.wrote];
      this.at ??= had.at;
      this.view ??= had.view;
      if (this.may === undefined) this.may = had.may;
      // Said once, until something can be kept again.
      if (!this.behind) this.unkept((e as Error).message);
      this.behind = true;
    }
  }

  /** Many records at once, as an import brings them. Rejects when they cannot be kept. */
  async bulk(u: { states: RecordState[]; queued: Change[] }): Promise<void> {
    await this.store.save(u);
  }

  private clear(): void {
    this.records.clear();
    this.gone.clear();
    this.queued = [];
    this.sent.clear();
    this.wrote = [];
    this.at = undefined;
    this.view = undefined;
    this.may = undefined;
  }
}
