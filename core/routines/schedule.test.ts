import { Cron } from 'croner';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { offsetAt } from '../formula/zones.ts';
import { nextTime, scheduleWords, timesBetween, type Schedule } from './schedule.ts';
import { DAYS, type Day } from './times.ts';

const ZONES = ['Europe/London', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kolkata', 'America/Sao_Paulo', 'UTC'];
const base: Schedule = {
  each: 'day',
  every: 15,
  weekday: 'monday',
  which: 'last',
  of: 'day',
  number: 1,
  date: '2026-12-24',
  time: '9:00',
};
const days = Object.keys(DAYS) as Day[];
const scheduleArb: fc.Arbitrary<Schedule> = fc.record({
  each: fc.constantFrom('minutes', 'hours', 'day', 'workday', 'week', 'month') as fc.Arbitrary<Schedule['each']>,
  every: fc.constantFrom(1, 2, 3, 4, 6, 10, 12, 15, 20, 30),
  weekday: fc.constantFrom(...days),
  which: fc.constantFrom('first', 'second', 'third', 'fourth', 'last', 'date') as fc.Arbitrary<Schedule['which']>,
  of: fc.constantFrom('day', ...days) as fc.Arbitrary<Schedule['of']>,
  number: fc.integer({ min: 1, max: 31 }),
  date: fc.constant('2026-12-24'),
  time: fc
    .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
    .map(([h, m]) => `${h}:${String(m).padStart(2, '0')}`),
});
const MINUTE = 60_000;
const at = (iso: string): number => Date.parse(iso);
const local = (zone: string, instant: number): Date => new Date(instant + offsetAt(zone, instant)! * MINUTE);

/** Does a schedule name the minute that a clock shows, said as plainly as can be? */
function names(s: Schedule, wall: Date): boolean {
  const minutes = wall.getUTCHours() * 60 + wall.getUTCMinutes();
  if (s.each === 'hours') return minutes % (s.every * 60) === 0;
  const [h, m] = s.time.split(':').map(Number) as [number, number];
  if (minutes !== h * 60 + m) return false;
  const weekday = days[(wall.getUTCDay() + 6) % 7];
  const inMonth = (add: number): Date => new Date(wall.getTime() + add * 86_400_000);
  const isLast = inMonth(1).getUTCDate() === 1;
  switch (s.each) {
    case 'workday':
      return weekday !== 'saturday' && weekday !== 'sunday';
    case 'week':
      return weekday === s.weekday;
    case 'month': {
      if (s.which === 'date') return wall.getUTCDate() === s.number || (isLast && wall.getUTCDate() < s.number);
      const nth = ['first', 'second', 'third', 'fourth'].indexOf(s.which);
      if (s.of === 'day') return nth < 0 ? isLast : wall.getUTCDate() === nth + 1;
      if (weekday !== s.of) return false;
      return nth < 0 ? inMonth(7).getUTCMonth() !== wall.getUTCMonth() : Math.ceil(wall.getUTCDate() / 7) === nth + 1;
    }
    default:
      return true;
  }
}

/** All minutes of a span, one by one: those the clock shows for the first time, and those it leaves out so much later. */
function counted(s: Schedule, zone: string, from: number, to: number): number[] {
  const found = new Set<number>();
  const shown = new Set<number>();
  for (let t = from - 26 * 60 * MINUTE; t <= to; t += MINUTE) {
    const offset = offsetAt(zone, t)!;
    const wall = local(zone, t);
    const isAgain = shown.has(wall.getTime());
    shown.add(wall.getTime());
    if (!isAgain && names(s, wall)) found.add(t);
    // The clock has been moved on: what it left out stands as much later.
    const before = offsetAt(zone, t - MINUTE)!;
    for (let gap = 0; gap < offset - before; gap++) {
      const left = new Date(wall.getTime() - (offset - before - gap) * MINUTE);
      if (names(s, left)) found.add(t + gap * MINUTE);
    }
  }
  return [...found].filter((t) => t > from && t <= to).sort((a, b) => a - b);
}

describe('times of a schedule', () => {
  it('are those that plain counting of minutes finds, through changes of clocks (property)', () => {
    const clockTimes = scheduleArb.filter((s) => s.each !== 'minutes' && !(s.each === 'hours' && s.every === 1));
    const starts = ['2026-03-28', '2026-10-24', '2027-03-13', '2026-11-01', '2026-02-26', '2028-02-27', '2026-04-04'];
    fc.assert(
      fc.property(clockTimes, fc.constantFrom(...ZONES), fc.constantFrom(...starts), (s, zone, day) => {
        const from = at(`${day}T00:00:00Z`);
        const to = from + 3 * 86_400_000;
        expect(timesBetween(s, zone, from, to)).toEqual(counted(s, zone, from, to));
      }),
      { numRuns: 15 },
    );
  });

  it('are those of cron where no clock changes (property)', () => {
    const nth = { first: 1, second: 2, third: 3, fourth: 4 } as const;
    const cronOf = (s: Schedule): string => {
      const [h, m] = s.time.split(':');
      const weekday = (d: Day): number => (days.indexOf(d) + 1) % 7;
      if (s.each === 'minutes') return `*/${s.every} * * * *`;
      if (s.each === 'hours') return `0 */${s.every} * * *`;
      if (s.each === 'workday') return `${m} ${h} * * 1-5`;
      if (s.each === 'week') return `${m} ${h} * * ${weekday(s.weekday)}`;
      if (s.each !== 'month') return `${m} ${h} * * *`;
      if (s.which === 'date') return `${m} ${h} ${s.number} * *`;
      if (s.of === 'day') return `${m} ${h} ${s.which === 'last' ? 'L' : nth[s.which]} * *`;
      return `${m} ${h} * * ${weekday(s.of)}#${s.which === 'last' ? 'L' : nth[s.which]}`;
    };
    const fair = scheduleArb
      .filter((s) => s.each !== 'month' || s.which !== 'date' || s.number < 29)
      .filter((s) => s.each !== 'hours' || s.every < 24);
    fc.assert(
      fc.property(fair, fc.integer({ min: 0, max: 3000 }), (s, days) => {
        const from = at('2026-01-01T00:00:30Z') + days * 86_400_000;
        const cron = new Cron(cronOf(s), { timezone: 'UTC' });
        const wanted = cron.nextRuns(5, new Date(from)).map((d) => d.getTime());
        let next = from;
        const found = wanted.map(() => (next = nextTime(s, 'UTC', next)!));
        expect(found).toEqual(wanted);
      }),
      { numRuns: 200 },
    );
  });

  it('every so many minutes goes on through the hour that clocks show twice', () => {
    const from = at('2026-10-24T23:59:00Z');
    const times = timesBetween({ ...base, each: 'minutes', every: 30 }, 'Europe/London', from, from + 3 * 3_600_000);
    expect(times.map((t) => new Date(t).toISOString().slice(11, 16))).toEqual([
      '00:00', '00:30', '01:00', '01:30', '02:00', '02:30',
    ]); // prettier-ignore
  });

  it('once comes once, and a date or time that is none gives none', () => {
    const once: Schedule = { ...base, each: 'once', time: '16:00' };
    const from = at('2026-01-01T00:00:00Z');
    expect(timesBetween(once, 'Europe/London', from, Infinity)).toEqual([at('2026-12-24T16:00:00Z')]);
    expect(nextTime(once, 'Europe/London', at('2026-12-24T16:00:00Z'))).toBeNull();
    expect(nextTime({ ...once, date: '2026-02-30' }, 'Europe/London', from)).toBeNull();
    expect(nextTime({ ...base, time: '25:00' }, 'Europe/London', from)).toBeNull();
  });

  it('reads as a sentence', () => {
    expect(scheduleWords({ ...base, each: 'month', which: 'second', of: 'tuesday' })).toBe(
      'on the second Tuesday of every month at 9:00',
    );
    expect(scheduleWords({ ...base, each: 'minutes', every: 1 })).toBe('every minute');
  });
});
