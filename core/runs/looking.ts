import type { Changes } from '../records/changes.ts';
import type { Records } from '../records/store.ts';

/** What a run looks at while it holds. */
export interface LooksAt {
  /** Fields, each of one record or (null) of any. */
  reads: readonly { key: string; record: string | null }[];
  /** It may also become otherwise by the time alone. */
  byTime: boolean;
}

interface OfKey {
  key: string;
  /** One run, or several: most records have one. */
  byRecord: Map<string, string | Set<string>>;
  any: Set<string>;
  unwatch: () => void;
}

/** What one run looks at: thousands of runs that look at the same field share what is known of it. */
interface Looks {
  reads: readonly { of: OfKey; record: string | null }[];
  byTime: boolean;
}

const runsOf = (of: string | Set<string> | undefined): Iterable<string> =>
  of === undefined ? [] : typeof of === 'string' ? [of] : of;

/** Knows which runs are to look again when records change, however many hold: it asks none of the others. */
export class Looking {
  private readonly keys = new Map<string, OfKey>();
  private readonly byTime = new Set<string>();
  private readonly of = new Map<string, Looks>();
  private readonly stop: () => void;

  constructor(
    private readonly records: Records,
    /** Hears of the runs that are to look again. */
    private readonly wake: (runs: ReadonlySet<string>) => void,
  ) {
    this.stop = records.subscribe((_, changes) => this.changed(changes));
  }

  add(run: string, at: LooksAt): void {
    this.remove(run);
    const reads = at.reads.map(({ key, record }) => ({ of: this.known(key), record }));
    this.of.set(run, { reads, byTime: at.byTime });
    if (at.byTime) this.byTime.add(run);
    for (const { of, record } of reads) {
      if (record === null) of.any.add(run);
      else {
        const runs = of.byRecord.get(record);
        if (runs instanceof Set) runs.add(run);
        else of.byRecord.set(record, runs === undefined || runs === run ? run : new Set([runs, run]));
      }
    }
  }

  private known(key: string): OfKey {
    const known = this.keys.get(key) ?? {
      key,
      byRecord: new Map<string, string | Set<string>>(),
      any: new Set<string>(),
      unwatch: this.records.watch([key]),
    };
    this.keys.set(key, known);
    return known;
  }

  /** Does any look at what may become otherwise by the time alone? */
  get anyByTime(): boolean {
    return this.byTime.size > 0;
  }

  has(run: string): boolean {
    return this.of.has(run);
  }

  remove(run: string): void {
    const at = this.of.get(run);
    if (!at) return;
    this.of.delete(run);
    this.byTime.delete(run);
    for (const { of, record } of at.reads) {
      of.any.delete(run);
      const runs = record === null ? undefined : of.byRecord.get(record);
      if (runs instanceof Set) runs.delete(run);
      if (runs === run || (runs instanceof Set && runs.size === 0)) of.byRecord.delete(record!);
      if (of.any.size > 0 || of.byRecord.size > 0 || !this.keys.delete(of.key)) continue;
      of.unwatch();
    }
  }

  private changed(changes: Changes): void {
    if (this.of.size === 0) return;
    if (changes.all) return this.wake(new Set(this.of.keys()));
    const woken = new Set<string>(changes.clock ? this.byTime : []);
    for (const [key, rows] of changes.rows) {
      const known = this.keys.get(key);
      if (!known || rows.size === 0) continue;
      for (const run of known.any) woken.add(run);
      for (const row of rows) for (const run of runsOf(known.byRecord.get(row.id))) woken.add(run);
    }
    if (woken.size) this.wake(woken);
  }

  close(): void {
    this.stop();
    for (const k of this.keys.values()) k.unwatch();
  }
}
