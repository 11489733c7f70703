import { onDevice } from './wall-clock.ts';
import { offsetAt } from './zones.ts';

/** Zones change their clocks at whole quarters of an hour. */
const QUARTER_MS = 900_000;

/**
 * What the clocks of a zone (IANA name) show, in milliseconds as if it were UTC; of this device where there is none, or
 * none of that name. `now` gives instants.
 */
export function zoneClock(zone: () => string | undefined, now: () => number): () => number {
  let known = { zone: '', quarter: NaN, offset: 0 };
  return () => {
    const instant = now();
    const name = zone();
    if (!name) return onDevice(instant);
    const quarter = Math.floor(instant / QUARTER_MS);
    if (known.quarter !== quarter || known.zone !== name) {
      const minutes = offsetAt(name, instant);
      if (minutes === null) return onDevice(instant);
      known = { zone: name, quarter, offset: minutes * 60_000 };
    }
    return instant + known.offset;
  };
}
