import type { KeepRun, KeptRun } from '../routines/run.ts';
import type { StepTrace } from '../routines/state.ts';

/** Where a device keeps runs that may outlive the page. */
export interface RunStore {
  keepRun(id: string, run: KeptRun | null, steps: readonly StepTrace[]): Promise<void>;
  /** The ids of all that are kept. */
  runIds(): Promise<string[]>;
  /** A run with its steps; null when it has ended meanwhile, "spoilt" when what is kept cannot be a run. */
  keptRun(id: string): Promise<KeptRun | 'spoilt' | null>;
}

/** The other pages of the same app on a device. */
export interface Pages {
  /**
   * Does something while this page alone has the lock of this name; waits until no other has it. One that closes lets go
   * of its locks. Rejects where a page may have none; absent where there are none.
   */
  locked?(name: string, work: () => Promise<void>): Promise<unknown>;
  /** Tells the other pages that a run is kept anew. */
  tell?(id: string): void;
  /** Hears what other pages tell. */
  hear?(take: (id: unknown) => void): void;
}

/**
 * The runs of one app in one page. A run that is kept has one owner among all open pages of a device: the one that holds
 * its lock. When that page closes, another one takes the run up.
 */
export class KeptRuns {
  /** The runs that this page has, each with what lets go of its lock. */
  private readonly held = new Map<string, () => void>();

  constructor(
    private readonly store: () => Promise<RunStore> | RunStore,
    private readonly pages: Pages = {},
  ) {}

  readonly keep: KeepRun = async (id, run, steps) => {
    const isNew = run && !this.held.has(id);
    if (isNew) await new Promise<void>((has) => void this.owning(id, has));
    await (await this.store()).keepRun(id, run, steps);
    if (isNew) this.pages.tell?.(id);
    if (!run) this.held.get(id)?.();
  };

  /** Goes on with every run that was or will be put away, at once or when the page that has it closes. */
  async takeUp(resume: (run: KeptRun) => Promise<unknown>, say: (words: string) => void): Promise<void> {
    const store = await this.store();
    /** Those whose locks are waited for. */
    const awaited = new Set<string>();
    const waitFor = (id: unknown): void => {
      if (typeof id !== 'string' || this.held.has(id) || awaited.has(id)) return;
      awaited.add(id);
      void this.owning(id, async () => {
        const run = await store.keptRun(id);
        if (run === 'spoilt') {
          await store.keepRun(id, null, []);
          say('A routine that was waiting here could not be read any more, so it ended.');
        } else if (run) await resume(run);
        this.held.get(id)?.();
      }).finally(() => awaited.delete(id));
    };
    this.pages.hear?.(waitFor);
    for (const id of await store.runIds()) waitFor(id);
  }

  /** Waits for the lock of a run and has it until it is let go. Resolves then. */
  private async owning(id: string, has: () => unknown): Promise<void> {
    const have = (): Promise<void> => {
      const over = new Promise<void>((resolve) => {
        this.held.set(id, () => {
          this.held.delete(id);
          resolve();
        });
      });
      void has();
      return over;
    };
    try {
      await (this.pages.locked ? this.pages.locked(id, have) : have());
    } catch {
      // A page that may have no locks has its runs without them.
      await have();
    }
  }
}
