import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextTime, timesBetween, type Schedule } from '../routines/schedule.ts';
import { KnownTime } from './known-time.ts';

const MINUTE = 60_000;
const DAY = 86_400_000;
const ZONE = 'Europe/Berlin';

const schedule: fc.Arbitrary<Schedule> = fc.oneof(
  fc.record({ each: fc.constant('minutes' as const), every: fc.constantFrom(5, 30) }),
  fc.record({ each: fc.constantFrom('day' as const, 'workday' as const), time: fc.constantFrom('02:30', '16:00') }),
  fc.record({
    each: fc.constant('week' as const),
    weekday: fc.constant('sunday' as const),
    time: fc.constant('02:30'),
  }),
  fc.record({ each: fc.constant('once' as const), date: fc.constant('2026-10-25'), time: fc.constant('02:30') }),
) as fc.Arbitrary<Schedule>;

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
