import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hiveApp } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import './rare-functions.ts';
import { inZone, onClock } from './zones.ts';
import { WorkCalendar, type WorkTimes } from './work-time.ts';

const MINUTE = 60_000;
const DAY = 86_400_000;
const WEEK: WorkTimes['days'] = [1, 2, 3, 4, 5]
  .map(
    () =>
      [
        [540, 720],
        [780, 1020],
      ] as const,
  )
  .concat([[], []] as never);
const at = (wall: string): number => Date.parse(`${wall}Z`);
const of = (more: Partial<WorkTimes> = {}) => new WorkCalendar({ days: WEEK, free: [], ...more });

/** How far a zone is ahead then: clocks change at whole quarters of an hour. */
const offsets = new Map<string, number>();
function offsetOf(zone: string, instant: number): number {
  const quarter = Math.floor(instant / (15 * MINUTE));
  const key = `${zone} ${quarter}`;
  const known = offsets.get(key) ?? inZone(quarter * 15 * MINUTE, zone)!.ms - quarter * 15 * MINUTE;
  offsets.set(key, known);
  return known;
}

/** Is work done in the minute that begins at an instant? By what a clock of the zone shows then, and nothing else. */
function worksIn({ days, free, zone }: WorkTimes, instant: number): boolean {
  const wall = instant + (zone ? offsetOf(zone, instant) : 0);
  const day = Math.floor(wall / DAY);
  if (free.includes(new Date(day * DAY).toISOString().slice(0, 10))) return false;
  const minute = Math.floor((wall - day * DAY) / MINUTE);
  return days[(((day + 3) % 7) + 7) % 7]!.some(([from, until]) => from <= minute && minute < until);
}

describe('working time', () => {
  it('is what lies within opening hours, without nights, weekends and free days', () => {
    const c = of({ free: ['2026-11-30'] });
    // A Friday at four to the Tuesday at ten: an hour, and another; Monday is free.
    expect(c.between(at('2026-11-27T16:00'), at('2026-12-01T10:00'))).toBe(120 * MINUTE);
    expect(c.between(at('2026-12-01T10:00'), at('2026-11-27T16:00'))).toBe(-120 * MINUTE);
    expect(c.after(at('2026-11-27T16:00'), 120 * MINUTE)).toBe(at('2026-12-01T10:00'));
    expect(c.after(at('2026-11-28T03:00'), 0)).toBe(at('2026-12-01T09:00'));
    expect([c.isAt(at('2026-12-01T11:59')), c.isAt(at('2026-12-01T12:00')), c.isAt(at('2026-11-30T10:00'))]).toEqual([
      true,
      false,
      false,
    ]);
    const never = new WorkCalendar({ days: [[], [], [], [], [], [], []], free: [] });
    expect([never.works, never.after(0, 1), never.between(0, DAY)]).toEqual([false, null, 0]);
    expect(c.between(0, 40 * 366 * DAY)).toBeNull();
  });

  it('is that of plain counting minute by minute, in zones and through changes of clocks (property)', () => {
    const time = fc.uniqueArray(fc.integer({ min: 0, max: 48 }), { maxLength: 6 }).map((edges) => {
      const sorted = [...edges].sort((a, b) => a - b).map((n) => n * 30);
      return Array.from({ length: sorted.length >> 1 }, (_, i) => [sorted[2 * i]!, sorted[2 * i + 1]!] as const);
    });
    const times = fc.record({
      days: fc.array(time, { minLength: 7, maxLength: 7 }),
      free: fc.subarray(['2026-03-29', '2026-10-25', '2026-10-26', '2026-04-05']),
      zone: fc.constantFrom(undefined, 'Europe/London', 'Europe/Berlin', 'America/St_Johns', 'Australia/Lord_Howe', 'Asia/Kathmandu'),
    }); // prettier-ignore
    // Around the nights on which some of these zones change their clocks.
    const begins = fc
      .tuple(
        fc.constantFrom('2026-03-28', '2026-10-24', '2026-04-03', '2026-03-07', '2026-11-01', '2026-06-01'),
        fc.nat(2880),
      )
      .map(([day, minutes]) => Date.parse(`${day}T00:00Z`) + minutes * MINUTE);
    fc.assert(
      fc.property(times, begins, fc.nat(4 * 1440), (w, from, minutes) => {
        // The hour that a clock shows twice is one time of work to whoever reads the clock, and begins with its first showing:
        // hours that begin or end in it, or in the one left out, are left to the other test.
        const edges = [0, 1, 2, 3, 4].flatMap((d) =>
          w.days.flat().flatMap(([a, b]) => [a, b].map((m) => (Math.floor(from / DAY) + d - 1) * DAY + m * MINUTE)),
        );
        const { zone } = w;
        fc.pre(!zone || edges.every((e) => isPlain(zone, e)));
        const c = new WorkCalendar(w);
        const until = from + minutes * MINUTE;
        let counted = 0;
        for (let t = from; t < until; t += MINUTE) if (worksIn(w, t)) counted += MINUTE;
        expect(c.between(from, until)).toBe(counted);
        expect(c.isAt(from)).toBe(worksIn(w, from));
        if (counted > 0) {
          const end = c.after(from, counted)!;
          expect(c.between(from, end)).toBe(counted);
          expect(end).toBeLessThanOrEqual(until);
          // A minute less has been worked a moment earlier.
          expect(c.between(from, end - MINUTE)!).toBeLessThan(counted);
        }
      }),
      { numRuns: 120 },
    );
  });

  it('through a night in which the clocks change has an hour more or less', () => {
    const nights: WorkTimes = {
      days: Array.from({ length: 7 }, () => [[0, 360]] as const),
      free: [],
      zone: 'Europe/London',
    };
    const c = new WorkCalendar(nights);
    const midnight = (day: string): number => onClock(at(`${day}T00:00`), 'Europe/London')!.instant;
    const hours = (day: string, next: string): number => c.between(midnight(day), midnight(next))! / (60 * MINUTE);
    expect(hours('2026-03-28', '2026-03-29')).toBe(6);
    expect(hours('2026-03-29', '2026-03-30')).toBe(5);
    expect(hours('2026-10-25', '2026-10-26')).toBe(7);
  });
});

/** Does a clock of the zone show this once, and is it not left out? */
function isPlain(zone: string, wall: number): boolean {
  const around = [-DAY, DAY].map((d) => inZone(wall + d, zone)!);
  const [a, b] = around.map((x) => x.ms - x.instant);
  const found = [...new Set([a!, b!])].filter((offset) => inZone(wall - offset, zone)!.ms === wall);
  return found.length === 1;
}

describe('formulas of working time', () => {
  const app = { ...hiveApp(), work: { days: WEEK as never, free: [] as string[] }, zone: 'Europe/London' };
  const run = (records: Records, formula: string): unknown => {
    const compiled = records.model.formulaOf(app.tables[0]!.id, formula);
    expect(compiled.problems).toEqual([]);
    return compiled.run([records.runtime as never, null]);
  };
  it('work out by the hours of the app, anew when those change, and come to nothing without any', () => {
    const records = new Records(app, () => at('2026-11-27T16:00'));
    const text = 'string(after working time(date and time("2026-11-27T16:00:00"), duration("PT2H")))';
    expect(run(records, text)).toBe('2026-11-30T10:00:00');
    expect(run(records, 'working time(now(), date and time("2026-11-30T10:00:00")) = duration("PT2H")')).toBe(true);
    expect(run(records, 'is working time(now())')).toBe(true);
    records.setApp({ ...app, work: { ...app.work, free: ['2026-11-30'] } });
    expect(run(records, text)).toBe('2026-12-01T10:00:00');
    records.setApp({ ...app, work: undefined } as never);
    expect(run(records, text)).toBe(null);
  });
});
