import { InTurn } from '../document/in-turn.ts';
import { pause, type Clock } from '../document/time.ts';
import type { VirtualClock } from '../world/clock.ts';

/** How the time of a rehearsal goes: it stands, it runs as outside, or an hour takes ten seconds. */
export type Pace = 'stands' | 'runs' | 'fast';

const SPEED: Record<Pace, number> = { stands: 0, runs: 1, fast: 360 };
/** So often time passes while it goes, in milliseconds. */
const BEAT_MS = 30;
/** What is done takes its moment also while the clock stands: so many milliseconds at most for each thing. */
const MOMENT_MS = 5000;
/** A longer way is gone in parts, between which it can be ended. */
const PART_MS = 6 * 3_600_000;

/** Lets the time of a rehearsal go. All that lets time pass comes one after the other. */
export class Pacer {
  private readonly turns = new InTurn();
  private closed = false;
  private stops = false;
  pace: Pace = 'stands';
  /** Where time goes to now; null while it goes nowhere. */
  target: number | null = null;

  constructor(
    private readonly clock: VirtualClock,
    private readonly real: Clock,
    private readonly changed: () => void,
    /** Hears of time that passes because it runs. */
    private readonly passed: (ms: number) => void,
  ) {}

  /** Begins; until then nothing happens. */
  begin(): void {
    void this.go();
  }

  private async go(): Promise<void> {
    let before = this.real.now();
    while (!this.closed) {
      await pause(this.real, BEAT_MS);
      const now = this.real.now();
      const passed = now - before;
      before = now;
      await this.turns.next(() => this.beat(passed));
    }
  }

  private async beat(passed: number): Promise<void> {
    if (this.closed) return;
    if (this.pace !== 'stands') {
      this.passed(passed * SPEED[this.pace]);
      await this.clock.pass(passed * SPEED[this.pace]);
      this.changed();
    } else await this.moment();
  }

  /** Lets happen what is under way, as far as that takes a moment each. */
  private async moment(): Promise<void> {
    const { clock } = this;
    const before = clock.now();
    await clock.settle();
    for (let next = clock.next; next !== null && next - clock.now() <= MOMENT_MS; next = clock.next) {
      await clock.pass(next - clock.now());
      // Something that never ends must not let time go.
      if (clock.now() - before > 4 * MOMENT_MS) break;
    }
    if (clock.now() !== before) this.changed();
  }

  /** Lets what is under way come to rest. */
  settle(): Promise<void> {
    return this.turns.next(() => this.moment());
  }

  /** Lets time pass up to a moment, in milliseconds since 1970; what lies behind stays behind. */
  to(time: number): Promise<void> {
    return this.turns.next(async () => {
      this.stops = false;
      this.target = time;
      try {
        while (!this.stops && !this.closed && this.clock.now() < time) {
          await this.clock.pass(Math.min(PART_MS, time - this.clock.now()));
          this.changed();
        }
        await this.moment();
      } finally {
        this.target = null;
        this.changed();
      }
    });
  }

  /** Ends the way that time goes now. */
  stop(): void {
    this.stops = true;
  }

  close(): void {
    this.closed = true;
  }
}
