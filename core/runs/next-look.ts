import { every, type Clock } from '../document/time.ts';

/** What may become otherwise by the time alone is looked at so often, in milliseconds. */
export const LOOK_MS = 60_000;

/** A timer counts to 2^31 - 1 milliseconds; what is further away is looked at once before. */
const LONGEST_MS = 2_000_000_000;

/**
 * Looks when something is due. It looks every minute besides, for what nobody can say when it is due; on a clock that
 * leaps, only where something else happens, too.
 */
export class NextLook {
  private beat: (() => void) | null = null;
  private timer: (() => void) | null = null;
  private time = Infinity;

  constructor(
    private readonly clock: Clock,
    private readonly look: () => void,
  ) {}

  /** From here on it looks. */
  begin(): void {
    this.beat ??= every(this.clock, LOOK_MS, this.look);
  }

  /** Looks next at this time, in milliseconds since 1970, rather than at the one said before. */
  at(time: number): void {
    if (!this.beat) return;
    this.timer?.();
    this.timer = null;
    this.time = time;
    if (time === Infinity) return;
    const ms = Math.min(Math.max(1, time - this.clock.now()), LONGEST_MS);
    this.timer = this.clock.after(ms, this.look);
  }

  /** Looks no later than this. */
  by(time: number): void {
    if (time < this.time) this.at(time);
  }

  close(): void {
    this.beat?.();
    this.timer?.();
    this.beat = this.timer = null;
  }
}
