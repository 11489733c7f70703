/** The time, and what happens at one: a device's own clock, or one that a test lets pass. */
export interface Clock {
  /** Milliseconds since 1970 (Unix time). */
  now(): number;
  /** Does something once, after so many milliseconds, 2^31 - 1 at most. Gives the way not to do it after all. */
  after(ms: number, work: () => void): () => void;
  /** Does something again and again; where it is absent, by `after`. See {@link every}. */
  every?(ms: number, work: () => void): () => void;
}

/** A browser's timer counts to 2^31 - 1 milliseconds; what waits longer waits in parts. */
const LONGEST_MS = 2_000_000_000;

/** The clock of the device that this runs on. */
export const deviceClock: Clock = {
  now: () => Date.now(),
  after(ms, work) {
    const timer = setTimeout(work, ms);
    return () => clearTimeout(timer);
  },
};

/** Resolves after so many milliseconds. */
export const pause = (clock: Clock, ms: number): Promise<void> =>
  new Promise((resolve) => void clock.after(ms, resolve));

/** Resolves at a time in milliseconds since 1970; at once where that is over. A clock that is set back is waited for. */
export async function until(clock: Clock, time: number): Promise<void> {
  for (let left = time - clock.now(); left > 0; left = time - clock.now())
    await pause(clock, Math.min(left, LONGEST_MS));
}

/** Does something again and again, with so many milliseconds in between. Gives the way to end that. */
export function every(clock: Clock, ms: number, work: () => void): () => void {
  if (clock.every) return clock.every(ms, work);
  let cancel = clock.after(ms, function again() {
    cancel = clock.after(ms, again);
    work();
  });
  return () => cancel();
}
