import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CalendarDate } from '../formula/values.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import type { Row } from '../records/row.ts';
import { Records } from '../records/store.ts';
import { OrderedDates } from './ordered-dates.ts';

const DAY = 86_400_000;
const FIRST = Date.UTC(2026, 10, 1) / DAY;
const NEXT = 'f_next0000';

/** Visits whose next one is a formula of another field and of the time. */
const app = (more = '') =>
  hiveApp({ visits: [{ id: NEXT, name: 'Next', type: 'formula', formula: `max([${F.when}, today()])${more}` }] });
const visits = (now: () => number): Records => new Records(app(), now);

const dateText = (day: number): string => new Date((FIRST + day) * DAY).toISOString().slice(0, 10);
const momentIn = (field: string) => (row: Row): number | null => {
  const value = row.get(field);
  return value instanceof CalendarDate ? value.day * DAY : null;
}; // prettier-ignore

// A few of few, or so many that all are put in order anew.
const someVisits = fc.oneof(
  fc.uniqueArray(fc.nat(4), { minLength: 1, maxLength: 3 }),
  fc.uniqueArray(fc.nat(120), { minLength: 1, maxLength: 80, size: 'max' }),
);
type Act =
  | { do: 'set'; visits: number[]; day: number | null }
  | { do: 'remove'; visit: number }
  | { do: 'tick'; days: number }
  | { do: 'release' }
  | { do: 'ask'; from: number; days: number };
const act: fc.Arbitrary<Act> = fc.oneof(
  fc.record({ do: fc.constant('set' as const), visits: someVisits, day: fc.option(fc.nat(40), { freq: 2 }) }),
  fc.record({ do: fc.constant('remove' as const), visit: fc.nat(4) }),
  fc.record({ do: fc.constant('tick' as const), days: fc.nat(3) }),
  fc.constant({ do: 'release' as const }),
  fc.record({ do: fc.constant('ask' as const), from: fc.integer({ min: -1, max: 41 }), days: fc.nat(40) }),
);

describe('the moments of a field in their order', () => {
  it.each([F.when, NEXT])('are those of a look at all records, whatever happened before (%s, property)', (field) => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 30, size: 'max' }), (acts) => {
        let now = FIRST * DAY;
        let releases = 0;
        const records = visits(() => now);
        const moment = momentIn(field);
        const dates = new OrderedDates(records, T.visits, field, moment);
        for (const a of acts) {
          if (a.do === 'set')
            for (const v of a.visits)
              records.set(T.visits, `v${v}`, { [F.when]: a.day === null ? null : dateText(a.day + (v % 3)) });
          else if (a.do === 'remove') records.remove(T.visits, `v${a.visit}`);
          else if (a.do === 'tick') {
            now += a.days * DAY;
            records.tick();
          } else if (a.do === 'release') records.setApp(app(`+duration("P${++releases}D")`));
          else {
            const [after, upTo] = [(FIRST + a.from) * DAY, (FIRST + a.from + a.days) * DAY];
            const all = records.rows(T.visits).flatMap((row) => {
              const at = moment(row);
              return at === null || at <= after ? [] : [{ at, id: row.id }];
            });
            all.sort((x, y) => x.at - y.at || (x.id < y.id ? -1 : 1));
            expect(dates.next(after)).toBe(all[0]?.at ?? Infinity);
            const between = Array.from(dates.between(after, upTo), ({ at, row }) => ({ at, id: row.id }));
            expect(between).toEqual(all.filter((e) => e.at <= upTo));
          }
        }
        dates.close();
      }),
      { numRuns: 200 },
    );
  });

  it('say that one may have moved until that was taken, whoever asked for what meanwhile', () => {
    const records = visits(() => FIRST * DAY);
    records.set(T.visits, 'v1', { [F.when]: dateText(3) });
    const dates = new OrderedDates(records, T.visits, F.when, momentIn(F.when));
    dates.next(0);
    expect([dates.mayMove, dates.takeMoved(), dates.mayMove]).toEqual([true, true, false]);
    records.set(T.visits, 'v1', { [F.fed]: 3 });
    dates.next(0);
    records.set(T.visits, 'v1', { [F.when]: dateText(4) });
    expect(dates.mayMove).toBe(true);
    dates.next(0);
    expect([dates.mayMove, dates.takeMoved(), dates.takeMoved()]).toEqual([true, true, false]);
  });
});
