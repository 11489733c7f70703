import type { Change } from '../records/change.ts';
import type { KnownIds } from './known-ids.ts';
import { withoutAuthor } from './protocol.ts';

const KEPT_CHANGES = 20_000;

/** The latest changes of a host by their numbers, and what of them must be known again. */
export class RecentChanges {
  /** Number of the last change. */
  at = 0;
  private recent: Change[] = [];
  /** The changes of runs that may ask for them again, by the ids of the runs. */
  private readonly ofRuns = new Map<string, Set<string>>();

  constructor(
    /** Changes with amounts, and those whose stamps were corrected: sent again, they are not made anew. */
    private readonly known: KnownIds,
  ) {}

  remember(changes: readonly Change[]): void {
    for (const c of changes) {
      this.recent.push(c);
      const [amount] = Object.values(c.do === 'set' ? (c.amounts ?? {}) : {});
      const stamp = amount?.at ?? c.sent;
      if (c.run) this.ofRun(c.run.id).add(c.id);
      else if (stamp !== undefined) this.known.add(c.id, stamp);
    }
    this.at += changes.length;
    if (this.recent.length > KEPT_CHANGES * 1.5) this.recent = this.recent.slice(-KEPT_CHANGES);
  }

  /** Those after a number, as they leave the host; null where not all of them are here. */
  since(at: number): Change[] | null {
    const first = this.at - this.recent.length;
    return at >= first && at <= this.at ? this.recent.slice(at - first).map(withoutAuthor) : null;
  }

  forget(): void {
    this.recent = [];
  }

  private ofRun(run: string): Set<string> {
    const known = this.ofRuns.get(run) ?? new Set();
    this.ofRuns.set(run, known);
    return known;
  }

  /** Was a change made by a run already? */
  wasMade(run: string, change: string): boolean {
    return this.ofRuns.get(run)?.has(change) ?? false;
  }

  /** A run asks no more for what it has made so far. */
  forgetRun(run: string): void {
    this.ofRuns.delete(run);
  }

  /** The changes that runs may ask for again: with this they are known after a start. */
  get runChanges(): [run: string, changes: string[]][] {
    return Array.from(this.ofRuns, ([run, changes]) => [run, [...changes]]);
  }
  set runChanges(list: readonly [run: string, changes: string[]][]) {
    for (const [run, changes] of list) for (const id of changes) this.ofRun(run).add(id);
  }
  /** The runs of which changes are known. */
  get runs(): Iterable<string> {
    return [...this.ofRuns.keys()];
  }
}
