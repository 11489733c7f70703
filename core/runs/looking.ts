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
  /** One run, or several: most records have one. */
  byRecord: Map<string, string | Set<string>>;
  any: Set<string>;
  unwatch: () => void;
}

const runsOf = (of: string | Set<string> | undefined): Iterable<string> =>
  of === undefined ? [] : typeof of === 'string' ? [of] : of;

/** Knows which runs are to look again when records change, however many hold: it asks none of the others. */
export class Looking {
  private readonly keys = new Map<string, OfKey>();
  private readonly byTime = new Set<string>();
  private readonly of = new Map<string, LooksAt>();
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
    this.of.set(run, at);
    if (at.byTime) this.byTime.add(run);
    for (const { key, record } of at.reads) {
      const known = this.keys.get(key) ?? {
        byRecord: new Map<string, string | Set<string>>(),
        any: new Set<string>(),
        unwatch: this.records.watch([key]),
      };
      this.keys.set(key, known);
      if (record === null) known.any.add(run);
      else {
        const runs = known.byRecord.get(record);
        if (runs instanceof Set) runs.add(run);
        else known.byRecord.set(record, runs === undefined || runs === run ? run : new Set([runs, run]));
      }
    }
  }

  has(run: string): boolean {
    return this.of.has(run);
  }

  remove(run: string): void {
    const at = this.of.get(run);
    if (!at) return;
    this.of.delete(run);
    this.byTime.delete(run);
    for (const { key, record } of at.reads) {
      const known = this.keys.get(key);
      if (!known) continue;
      known.any.delete(run);
      const runs = record === null ? undefined : known.byRecord.get(record);
      if (runs instanceof Set) runs.delete(run);
      if (runs === run || (runs instanceof Set && runs.size === 0)) known.byRecord.delete(record!);
      if (known.any.size > 0 || known.byRecord.size > 0) continue;
      known.unwatch();
      this.keys.delete(key);
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
