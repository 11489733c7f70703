import { once } from '../document/once.ts';
import { lettersOf } from '../fields/lists.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { HybridClock } from './clock.ts';
import type { KeptAlong } from './kept-along.ts';
import { NeverTakenError, type HostLink, type Sending } from './link.ts';
import { units, type Overtaken, type Receipt } from './protocol.ts';
import type { Replica } from './replica.ts';

const BATCH = 500;
const BATCH_LETTERS = 2_000_000;

const withFiles = once(() => import('./send-files.ts'));

/** As much of a device as sending reads and changes. */
interface Sends {
  queue: Change[];
  readonly replica: Replica;
  readonly clock: HybridClock;
  readonly kept: KeptAlong;
  readonly overtakenHeard: Set<string>;
  position: number;
  sendable(change: Change): boolean;
  sawAll(): void;
  saw(state: RecordState): void;
  onRefused(refusals: { change: Change; reason: string }[]): void;
  onOvertaken(overtaken: Overtaken[]): void;
  onSending(sending: Sending | null): void;
  onSaid(why: string): void;
}

/** One round in which a device sends what waits, and does what the host answers. It is fetched when something waits. */
export class Sender {
  constructor(private readonly device: Sends) {
    device.overtakenHeard.clear();
  }

  /**
   * Sends all that waits. What waits for a file of its own that the host does not take now stays behind, and holds up
   * nothing else.
   */
  async pushAll(link: HostLink): Promise<void> {
    const later = new Set<string>();
    for (;;) {
      const batch = this.nextBatch(later);
      if (batch.length === 0) return;
      const wanted = new Set(await this.push(link, batch));
      if (wanted.size === 0) continue;
      const { unitsWithFiles } = await withFiles();
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
    const { sendFiles } = await withFiles();
    try {
      const { never, later } = await sendFiles(link, this.device.kept.store, changes, wanted, (s) =>
        this.device.onSending(s),
      );
      for (const { holds, why } of never)
        await this.setAside(
          units(this.device.queue)
            .filter((u) => u.some(holds))
            .flat(),
          why,
        );
      const [first] = later.values();
      if (first !== undefined) this.device.onSaid(first);
      return new Set(later.keys());
    } finally {
      this.device.onSending(null);
    }
  }

  /** Takes changes out of the queue that the host will never take. What they wrote stays on this device. */
  private async setAside(changes: readonly Change[], why: string): Promise<void> {
    const gone = new Set(changes.map((c) => c.id));
    this.device.queue = this.device.queue.filter((c) => !gone.has(c.id));
    await this.device.kept.save({ sent: [...gone] });
    const reason = `${why} It stays on this device and reaches no other.`;
    this.device.onRefused(changes.map((change) => ({ change, reason })));
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
    for (const unit of units(this.device.queue)) {
      if (!unit.every((c) => this.device.sendable(c) && !later.has(c.id))) continue;
      size += unit.reduce((n, c) => n + (c.do === 'remove' ? 0 : lettersOf(c.cells ?? {})), 0);
      if (batch.length > 0 && (batch.length + unit.length > BATCH || size > BATCH_LETTERS)) break;
      batch.push(...unit);
    }
    return batch;
  }

  private async settle(batch: Change[], receipt: Receipt): Promise<void> {
    const refusals = new Map(receipt.refused.map((r) => [r.id, r]));
    const answered = new Set([...receipt.accepted, ...refusals.keys()]);
    this.device.queue = this.device.queue.filter((c) => !answered.has(c.id));
    const back = new Map<string, { table: string; state: RecordState | null }>();
    for (const r of receipt.refused) back.set(r.record, { table: r.table, state: r.state });
    for (const s of [...receipt.corrected, ...(receipt.raised ?? []), ...(receipt.given ?? [])])
      back.set(s.id, { table: s.table, state: s });
    for (const id of receipt.forget ?? []) {
      const known = this.device.replica.state(id);
      if (known) back.set(id, { table: known.table, state: null });
    }
    for (const c of batch)
      if (c.do === 'raise' && answered.has(c.id) && !back.has(c.record)) this.device.replica.settled(c);
    if (receipt.corrected.length) {
      // This clock ran far ahead. What is later than all that stands now is late enough.
      this.device.clock.forget();
      for (const c of this.device.queue) this.device.clock.saw(c.stamp);
    }
    const gone: string[] = [];
    this.device.replica.records.batch(() => {
      for (const [id, { table, state }] of back) {
        this.device.replica.replace(table, id, state);
        for (const c of this.device.queue) if (c.record === id) this.device.replica.apply(c);
        if (!this.device.replica.state(id)) gone.push(id);
      }
    });
    // News may have overtaken the answer: what it gives is older, so they are fetched once more.
    const at = back.size && receipt.at < this.device.position ? receipt.at : undefined;
    if (at !== undefined) this.device.position = at;
    if (receipt.corrected.length) this.device.sawAll();
    else for (const { state } of back.values()) if (state) this.device.saw(state);
    await this.device.kept.save({ sent: [...answered], records: back.keys(), gone, ...(at !== undefined && { at }) });
    const refused = batch.flatMap((change) => {
      const r = refusals.get(change.id);
      return r ? [{ change, reason: r.reason }] : [];
    });
    if (refused.length) this.device.onRefused(refused);
    const overtaken = (receipt.overtaken ?? []).filter((o) => !this.device.overtakenHeard.has(JSON.stringify(o)));
    if (overtaken.length) this.device.onOvertaken(overtaken);
  }
}
