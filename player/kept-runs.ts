import type { KeepRun, KeptRun } from '../core/routines/run.ts';
import type { StepTrace } from '../core/routines/state.ts';

/** Where a device keeps runs that may outlive the page. */
export interface RunStore {
  keepRun(id: string, run: KeptRun | null, told: readonly StepTrace[]): Promise<void>;
  /** The ids of all that are kept. */
  runIds(): Promise<string[]>;
  /** A run with its steps; null when it has ended meanwhile, "spoilt" when what is kept cannot be a run. */
  keptRun(id: string): Promise<KeptRun | 'spoilt' | null>;
}

/** The channel between the pages of one app in a browser (HTML standard, broadcasting to other contexts). */
type Others = Pick<BroadcastChannel, 'postMessage' | 'addEventListener'>;

/**
 * The runs of one app in one page. A run that is kept has one owner among all open pages of a browser: the one that
 * holds its lock (Web Locks API). When that page closes, another one takes the run up.
 */
export class KeptRuns {
  /** The runs that this page has, each with what lets go of its lock. */
  private readonly held = new Map<string, () => void>();

  constructor(
    private readonly app: string,
    private readonly store: () => Promise<RunStore> | RunStore,
    /** Absent where the browser has none, as on plain http. */
    private readonly locks: Pick<LockManager, 'request'> | undefined = globalThis.navigator?.locks,
    /** Tells the other pages which runs are kept anew. */
    private readonly others: Others | null = globalThis.BroadcastChannel ? new BroadcastChannel(`runs ${app}`) : null,
  ) {}

  readonly keep: KeepRun = async (id, run, told) => {
    const isNew = run && !this.held.has(id);
    if (isNew) await new Promise<void>((has) => void this.owning(id, has));
    await (await this.store()).keepRun(id, run, told);
    // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a channel has no target origin
    if (isNew) this.others?.postMessage(id);
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
    this.others?.addEventListener('message', ({ data }) => waitFor(data));
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
      await (this.locks ? this.locks.request(`run ${this.app} ${id}`, have) : have());
    } catch {
      // A browser may forbid locks to a page; then it has its runs without them.
      await have();
    }
  }
}
