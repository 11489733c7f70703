import type { LiveRun } from './live-run.ts';

/**
 * Which runs are at work: those of one record one after another, in the order in which they came; others beside each
 * other, so many at once.
 */
export class Queues {
  /** Runs of one record, or without one of one routine; the first of each is at work, or about to be. */
  private readonly lines = new Map<string, LiveRun[]>();
  /** Runs that could be at work, in their order. */
  private readonly ready: LiveRun[] = [];
  private going = 0;

  constructor(
    private readonly most: number,
    /** Gives whether the run is to be at work again, after the others of its record. */
    private readonly work: (run: LiveRun) => Promise<boolean>,
    /** May runs of this routine go on now? */
    private readonly mayGo: (run: LiveRun) => boolean,
  ) {}

  private keyOf({ given, routine }: LiveRun): string {
    return given ? `${given.table} ${given.record}` : routine;
  }

  add(run: LiveRun): void {
    const key = this.keyOf(run);
    const line = this.lines.get(key);
    if (line) line.push(run);
    else {
      this.lines.set(key, [run]);
      this.ready.push(run);
    }
  }

  /** Begins as many as there is room for. */
  begin(): void {
    for (let i = 0; this.going < this.most && i < this.ready.length;) {
      const run = this.ready[i]!;
      if (this.mayGo(run)) {
        this.ready.splice(i, 1);
        void this.go(run);
      } else i++;
    }
  }

  private async go(run: LiveRun): Promise<void> {
    this.going++;
    let again = false;
    try {
      again = await this.work(run);
    } finally {
      this.going--;
      this.leave(run);
      if (again) this.add(run);
      this.begin();
    }
  }

  /** The run is not at work any more: the next of its record is. */
  private leave(run: LiveRun): void {
    const key = this.keyOf(run);
    const line = this.lines.get(key)!;
    line.splice(line.indexOf(run), 1);
    if (line[0]) this.ready.push(line[0]);
    else this.lines.delete(key);
  }

  /** Are none at work? */
  get isIdle(): boolean {
    return this.going === 0;
  }
}
