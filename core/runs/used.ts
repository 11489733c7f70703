/** By quarters of an hour since 1970: how many runs ended in it, and for how many milliseconds they were at work. */
export type Used = Map<number, { runs: number; ms: number }>;

const QUARTER_MS = 900_000;
const QUARTERS = 96;

/** A run has ended. */
export function addUsed(used: Used, at: number, ms: number): void {
  const quarter = Math.floor(at / QUARTER_MS);
  const known = used.get(quarter) ?? { runs: 0, ms: 0 };
  used.set(quarter, { runs: known.runs + 1, ms: known.ms + ms });
}

/** What was used in the 24 hours up to now; what is older is let go of. */
export function usedUpTo(used: Used, now: number): { runs: number; ms: number } {
  const sum = { runs: 0, ms: 0 };
  const first = Math.floor(now / QUARTER_MS) - QUARTERS;
  for (const [quarter, u] of used) {
    if (quarter <= first) used.delete(quarter);
    else {
      sum.runs += u.runs;
      sum.ms += u.ms;
    }
  }
  return sum;
}
