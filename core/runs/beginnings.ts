import type { RunLine } from './lines.ts';
import { newRun, type LiveRun, type RunsNow } from './live-run.ts';
import type { Start } from './start.ts';

interface BeginningsPorts {
  now: RunsNow;
  append(lines: readonly RunLine[]): Promise<void>;
  /** Number of the last change. */
  position(): number;
  time(): number;
  /** All that is looked for, in a text. */
  triggers(): string;
  /** The run is kept, and begins. */
  begin(run: LiveRun): void;
  say(words: string): void;
}

/**
 * What was started and is to be kept before it begins, together with up to where everything was looked at: so that it is
 * begun once, whenever the host stops.
 */
export class Beginnings {
  private started: Start[] = [];
  private flushed: Promise<unknown> = Promise.resolve();

  constructor(private readonly ports: BeginningsPorts) {}

  add(starts: readonly Start[]): void {
    this.started.push(...starts);
  }
  /** Lets go of what was added. */
  drop(): void {
    this.started = [];
  }
  get any(): boolean {
    return this.started.length > 0;
  }

  /** Keeps what was added, with the number of the last change and up to when the clock was looked at. */
  flush(time = this.ports.now.seen?.time ?? this.ports.time()): void {
    const { now, append, position, triggers } = this.ports;
    const starts = this.started;
    this.started = [];
    const at = this.ports.time();
    const fresh = starts.filter((s) => !now.live.has(s.id));
    const runs = fresh.map((start) => newRun(start, at));
    const before = now.seen;
    now.seen = { at: position(), time, triggers: triggers() };
    for (const run of runs) now.live.set(run.id, run);
    const begins = fresh.map((start) => ({ do: 'begins' as const, at, start }));
    this.flushed = append([...begins, { do: 'seen', ...now.seen }]).then(
      () => runs.forEach((run) => this.ports.begin(run)),
      (e: Error) => {
        // It is tried again with what comes next, at the latest in a minute.
        for (const run of runs) now.live.delete(run.id);
        this.started.unshift(...starts);
        now.seen = before;
        this.ports.say(`Runs could not be kept: ${e.message}`);
      },
    );
  }

  /** Resolves when all that was flushed is kept. */
  async settled(): Promise<void> {
    await this.flushed;
  }
}
