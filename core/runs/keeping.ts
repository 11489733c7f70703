import type { App } from '../app/schema.ts';
import type { RunTrace } from '../routines/run.ts';
import type { Records } from '../records/store.ts';
import { boardOf, traceOf, type BoardMessage } from './board.ts';
import type { Upcoming } from './clock-starts.ts';
import type { DayUse } from './day.ts';
import { forgetPast, linesWithout } from './forgetting.ts';
import { GroupedLines, type RunLine, type RunsPort } from './lines.ts';
import type { RunsNow } from './live-run.ts';
import { shortened } from './shorten.ts';

/** Up to so many bytes nothing is let go of. */
const SHORT = 8 << 20;

/** The lines in which the runs of a host are kept, and what is told of them. */
export class RunsKeeping {
  private readonly lines: GroupedLines;
  private shortenAt = SHORT;

  constructor(
    private readonly port: RunsPort,
    private readonly now: RunsNow,
    private readonly records: () => Records,
    private readonly app: () => App,
    private readonly say: (words: string) => void,
  ) {
    this.lines = new GroupedLines(port);
  }

  /** Resolves when the lines are on the disk. */
  append(...lines: RunLine[]): Promise<void> {
    return this.lines.append(lines);
  }

  /** What the host does now, and has done. */
  board(next: readonly Upcoming[], day: readonly DayUse[]): BoardMessage {
    return boardOf(this.now, next, this.records(), day);
  }
  /** A run with its steps; null where nothing of it is kept. */
  trace(id: string): Promise<RunTrace | null> {
    return this.lines.inTurn(() => traceOf(id, this.app(), this.now, this.port, this.records()));
  }

  /** Lets go of what is kept of runs that ended long ago, where that is worth it. */
  async shorten(at: number): Promise<void> {
    const { port } = this;
    if (port.size < this.shortenAt) return;
    this.shortenAt = Infinity;
    try {
      await this.lines.inTurn(() => port.rewrite(shortened(port.read(), this.now, at)));
    } catch (e) {
      this.say(`What is kept of its runs could not be shortened: ${(e as Error).message}`);
    }
    this.shortenAt = Math.max(SHORT, port.size * 2);
  }

  /** Lets go of every line that holds something; runs that hold it have ended. */
  async forget(holds: (text: string) => boolean, at: number): Promise<void> {
    forgetPast(this.now, holds);
    await this.lines.inTurn(() => this.port.rewrite(shortened(linesWithout(this.port, holds), this.now, at)));
  }
}
