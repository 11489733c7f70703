import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextTime, timesBetween, type Schedule } from '../routines/schedule.ts';
import { KnownTime } from './known-time.ts';

const MINUTE = 60_000;
const DAY = 86_400_000;
const ZONE = 'Europe/Berlin';

const schedule: fc.Arbitrary<Schedule> = fc.record({
  each: fc.constantFrom('minutes', 'hours', 'day', 'workday', 'week', 'month', 'once'),
  every: fc.constantFrom(5, 30),
  weekday: fc.constantFrom('monday', 'sunday'),
  which: fc.constantFrom('first', 'last', 'date'),
  of: fc.constantFrom('day', 'sunday'),
  number: fc.constantFrom(1, 25, 31),
  date: fc.constantFrom('2026-10-25', '2026-10-30'),
  // The first is shown twice on the day when clocks are set back.
  time: fc.constantFrom('02:30', '16:00'),
});

describe('the known time of a schedule', () => {
  it('is what the schedule says, whatever was asked before (property)', () => {
    // Three days before clocks are set back, and on: asked in any order, as a clock that is set back asks.
    const begin = Date.UTC(2026, 9, 22);
    const instant = fc.nat(10 * 48).map((halves) => begin + halves * 30 * MINUTE);
    const asked = fc.array(fc.tuple(fc.boolean(), instant, fc.constantFrom(0, MINUTE, 30 * MINUTE, 3 * DAY)), {
      minLength: 1,
      maxLength: 30,
    });
    fc.assert(
      fc.property(schedule, asked, (s, questions) => {
        const known = new KnownTime(s, ZONE);
        for (const [next, at, more] of questions)
          if (next) expect(known.after(at)).toBe(nextTime(s, ZONE, at));
          else expect(known.between(at, at + more)).toEqual(timesBetween(s, ZONE, at, at + more));
      }),
      { numRuns: 500 },
    );
  });
});
