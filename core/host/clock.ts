/** A device's clock may run this far ahead, in milliseconds, before its stamps are corrected. */
const AHEAD_MS = 10 * 60_000;
/** The largest counter that a stamp has room for. */
const MOST_COUNT = 36 ** 4 - 1;

/**
 * A hybrid logical clock (Kulkarni et al., 2014): stamps that order changes of many devices as people saw them
 * happen, even when their clocks differ a little. A stamp is text that sorts: time, counter, device.
 */
export class HybridClock {
  private ms = 0;
  private count = 0;
  constructor(
    readonly device: string,
    private readonly now: () => number = Date.now,
  ) {}

  /** The next stamp, later than every stamp made or seen so far. */
  next(): string {
    const now = this.now();
    if (now > this.ms) {
      this.ms = now;
      this.count = 0;
    } else if (this.count < MOST_COUNT) this.count++;
    else {
      this.ms++;
      this.count = 0;
    }
    return stampText(this.ms, this.count, this.device);
  }

  /** May this stamp stand? Not when it is so far ahead that its device's clock must be wrong. */
  takes(stamp: string): boolean {
    return readStamp(stamp).ms <= this.now() + AHEAD_MS;
  }

  /** Forgets how far ahead it was: for a device whose stamps the host has corrected. Stamps seen afterwards count. */
  forget(): void {
    this.ms = 0;
    this.count = 0;
  }

  /** Takes note of a stamp from elsewhere. */
  saw(stamp: string): void {
    const { ms, count } = readStamp(stamp);
    if (ms > this.ms || (ms === this.ms && count > this.count)) {
      this.ms = ms;
      this.count = count;
    }
  }
}

export const stampText = (ms: number, count: number, device: string): string =>
  `${ms.toString(36).padStart(9, '0')}-${count.toString(36).padStart(4, '0')}-${device}`;

export function readStamp(stamp: string): { ms: number; count: number; device: string } {
  const [ms, count, device] = stamp.split('-') as [string, string, string];
  return { ms: parseInt(ms, 36), count: parseInt(count, 36), device };
}
