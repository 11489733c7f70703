import type { LiveRun } from './live-run.ts';

/**
 * Which runs are at work: those of one record one after another, in the order in which they came; others beside each
 * other, so many at once.
 */
export class Queues {
  /** Runs of one record, or without one of one routine; the first of each is at work, or about to be. */
  private readonly lines = new Map<string, LiveRun[]>();
  /** Runs that could be at work, in their order. */
  private ready: LiveRun[] = [];
  /** Runs that may not be at work now. */
  private held: LiveRun[] = [];
  private going = 0;

  constructor(
    private readonly most: number,
    /** Gives whether the run is to be at work again, after the others of its record. */
    private readonly work: (run: LiveRun) => Promise<boolean>,
    /** May runs of this routine go on now? */
    private readonly mayGo: (run: LiveRun) => boolean,
    /** A run may not go on now. */
    private readonly heldBack: () => void,
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
    while (this.going < this.most && this.ready.length) {
      const run = this.ready.shift()!;
      if (this.mayGo(run)) void this.go(run);
      else {
        this.held.push(run);
        this.heldBack();
      }
    }
  }

  /** Looks again which of those that might not go on may now, in their order. */
  lookAgain(): void {
    const { held } = this;
    this.held = [];
    if (held.length) this.ready = [...held, ...this.ready];
    this.begin();
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

  /** Are there any that may not be at work now, though nothing else keeps them? */
  get holdsBack(): boolean {
    return this.held.length > 0;
  }

  /** Are none at work? */
  get isIdle(): boolean {
    return this.going === 0;
  }
}
