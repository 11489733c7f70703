import type { Change } from '../records/change.ts';
import { circleNames } from './circle.ts';
import type { Start } from './start.ts';

/** So many runs of routines that started themselves again, over others or not, may come of one cause. */
export const MOST_AGAIN = 2000;
/** Of so many runs it is known which of them came first; beyond that it is counted anew. */
const KNOWN = 50_000;

/**
 * Holds back routines that start one another without end where each starts several: a chain is cut by its length (see
 * `circle.ts`), and these grow far beyond what a host can do before any chain is that long.
 */
export class Causes {
  /** The run that each came of first. */
  private readonly first = new Map<string, string>();
  /** Runs that came round again, by the first. */
  private readonly again = new Map<string, number>();

  constructor(private readonly nameOf: (routine: string) => string | undefined) {}

  /** What a change starts, as far as it may. The first that may not is cut, and says why; those after it do not begin. */
  bounded({ run }: Pick<Change, 'run'>, starts: readonly Start[]): Start[] {
    if (!run) return [...starts];
    const cause = this.first.get(run.id) ?? run.id;
    return starts.flatMap((start) => {
      if (this.first.size >= KNOWN) this.first.clear();
      this.first.set(start.id, cause);
      if (!start.path.slice(0, -1).includes(start.routine)) return [start];
      if (this.again.size >= KNOWN) this.again.clear();
      const count = (this.again.get(cause) ?? 0) + 1;
      this.again.set(cause, count);
      if (count <= MOST_AGAIN) return [start];
      return count === MOST_AGAIN + 1 ? [{ ...start, cut: this.words(start.path) }] : [];
    });
  }

  private words(path: readonly string[]): string {
    return `Routines started one another more than ${MOST_AGAIN.toLocaleString('en-GB')} times after one change, and were stopped: ${circleNames(path, this.nameOf)}.`;
  }
}
