import type { Looks, RunTrace } from '../../core/routines/run.ts';
import type { PausedRun } from './events.ts';

/** How a run that stands still goes on: by one step, to the next stop or its end, or not at all. */
export type GoOn = 'step' | 'go on' | 'end';

/** Lets runs be looked at step by step, and stops them before steps that the maker has marked. */
export class Stepper implements Looks {
  private marked: ReadonlySet<string> = new Set();
  /** The routine whose next run goes step by step. */
  private next: string | null = null;
  private readonly stepwise = new Set<string>();
  /** Runs that stand still, the one that is looked at first. */
  private readonly waiting = new Map<string, { paused: PausedRun; resolve(how: 'go on' | 'end'): void }>();
  /** The run that went on last: where it stands still again, it is shown before others. */
  private looked = '';

  constructor(private readonly tell: (paused: PausedRun | null) => void) {}

  /** From now on runs stop before these steps. */
  mark(steps: readonly string[]): void {
    this.marked = new Set(steps);
  }

  /** The next run of a routine goes step by step. */
  stepNext(routine: string): void {
    this.next = routine;
  }

  pauses(run: string, routine: string, step: string, isFirst: boolean): boolean {
    if (isFirst && this.next === routine) {
      this.next = null;
      this.stepwise.add(run);
    }
    return this.stepwise.has(run) || this.marked.has(step);
  }

  paused(run: string, step: string, trace: RunTrace): Promise<'go on' | 'end'> {
    return new Promise((resolve) => {
      this.waiting.set(run, { paused: { run, step, trace, behind: 0 }, resolve });
      this.show();
    });
  }

  goOn(run: string, how: GoOn): void {
    const waits = this.waiting.get(run);
    if (!waits) return;
    this.waiting.delete(run);
    this.looked = run;
    if (how === 'step') this.stepwise.add(run);
    else this.stepwise.delete(run);
    this.show();
    waits.resolve(how === 'end' ? 'end' : 'go on');
  }

  /** Shows the run that is looked at, or else the one that has stood still longest; the others come after it. */
  private show(): void {
    const first = this.waiting.get(this.looked) ?? this.waiting.values().next().value;
    this.tell(first ? { ...first.paused, behind: this.waiting.size - 1 } : null);
  }
}
