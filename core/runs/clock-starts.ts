import type { App, Trigger } from '../app/schema.ts';
import { CalendarDate, DateTime, type Value } from '../formula/values.ts';
import { onClock } from '../formula/zones.ts';
import { compileQuery, type CompiledQuery } from '../records/query.ts';
import { display } from '../records/format.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { minutesOf, scheduleWords } from '../routines/schedule.ts';
import { MISSED, type Missed } from '../routines/times.ts';
import { inputsFrom } from '../routines/trigger.ts';
import { KnownTime } from './known-time.ts';
import { LOOK_MS } from './next-look.ts';
import { OrderedDates } from './ordered-dates.ts';
import { recordTest, triggersOf, type ReadyTrigger, type RecordTest } from './ready.ts';
import { runId, type Start } from './start.ts';

const MINUTE = 60_000;
const DAY_MS = 86_400_000;
/** A start that comes later than so many milliseconds was missed. */
const LATE_MS = 2 * MINUTE;
/** So many missed times are made up for at most, the latest, where each of them is. */
const MOST_MISSED = 1000;
/** So many runs one time starts at most. */
const MOST_AT_ONCE = 10_000;

/** Something that the clock will start. */
export interface Upcoming {
  routine: string;
  /** "every day at 16:00". */
  said: string;
  /** Milliseconds since 1970. */
  at: number;
}

type Dates = ReadyTrigger<'date reached'> & { test: RecordTest; moments: OrderedDates };
type Clocked = ReadyTrigger<'clock'> & { query: CompiledQuery | null; times: KnownTime };

/** Finds what the clock starts between two instants. */
export class ClockStarts {
  private readonly clocks: Clocked[];
  private readonly dates: Dates[];

  constructor(
    private readonly records: Records,
    app: App,
    /** IANA name. */
    zone: string,
  ) {
    this.clocks = triggersOf(app, 'clock').map((t) => ({
      ...t,
      query: t.trigger.for ? compileQuery(records, t.trigger.for, []) : null,
      times: new KnownTime(t.trigger, zone),
    }));
    this.dates = triggersOf(app, 'date reached').map((t) => {
      const { table, field, where } = t.trigger;
      return {
        ...t,
        test: recordTest(records, table, where),
        moments: new OrderedDates(records, table, field, (row) => momentOf(row.get(field), t.trigger, zone)),
      };
    });
  }

  /** Are dates of records watched, which any change may move? */
  get hasDates(): boolean {
    return this.dates.length > 0;
  }

  /** All that starts after an instant, up to and including now, in milliseconds since 1970; in the order of their times. */
  due(after: number, now: number): Start[] {
    const found: { at: number; start: Start }[] = [];
    for (const c of this.clocks) {
      const times = taken(c.times.between(after, now), now, c.trigger.missed);
      for (const at of times) for (const start of this.startsAt(c, at, now)) found.push({ at, start });
    }
    for (const d of this.dates) found.push(...this.datesBetween(d, after, now));
    return found.sort((a, b) => a.at - b.at).map((f) => f.start);
  }

  private startsAt({ routine, trigger, at: place, query }: Clocked, at: number, now: number): Start[] {
    const said = `By the clock, ${scheduleWords(trigger)}${lateWords(at, now, trigger.missed)}`;
    const start = (row: Row | null): Start => ({
      id: runId('clock', routine.id, place, at, row?.id ?? ''),
      routine: routine.id,
      given: row && routine.given === row.tableId ? { table: row.tableId, record: row.id } : null,
      values: {},
      said,
      path: [routine.id],
    });
    if (!query) return [start(null)];
    if (query.problems.some((p) => p.severity === 'error')) return [];
    return query
      .run([])
      .slice(0, Math.min(query.most([]), MOST_AT_ONCE))
      .map(start);
  }

  private datesBetween(d: Dates, after: number, now: number): { at: number; start: Start }[] {
    const { routine, trigger, at: place, test, moments } = d;
    const found: { at: number; start: Start }[] = [];
    for (const { at, row } of moments.between(after, now)) {
      if (trigger.missed === 'skip' && now - at > LATE_MS) continue;
      if (!test.holds(row)) continue;
      const of = this.records.model.tables.get(trigger.table)?.fields.get(trigger.field)?.name ?? 'A date';
      found.push({
        at,
        start: {
          id: runId('date', routine.id, place, at, row.id),
          routine: routine.id,
          given: routine.given === trigger.table ? { table: trigger.table, record: row.id } : null,
          values: inputsFrom(routine, { 'name of the record': row.title() }),
          said: `${of} of ${row.title() || 'a record'} is ${display(row.get(trigger.field))}${lateWords(at, now, trigger.missed)}`,
          path: [routine.id],
        },
      });
    }
    return found;
  }

  /** What the clock starts next, the soonest first; of dates the soonest of each trigger, within a year. */
  upcoming(now: number): Upcoming[] {
    const found = this.clocks.flatMap(({ routine, trigger, times }): Upcoming[] => {
      const at = times.after(now);
      return at === null ? [] : [{ routine: routine.id, said: scheduleWords(trigger), at }];
    });
    for (const { routine, test, moments } of this.dates) {
      for (const { at, row } of moments.between(now, Infinity)) {
        if (!test.holds(row)) continue;
        found.push({ routine: routine.id, said: `for ${row.title()}`, at });
        break;
      }
    }
    return found.sort((a, b) => a.at - b.at);
  }

  /** May a date have become sooner since it was looked at? */
  get mayBeSooner(): boolean {
    return this.dates.some((d) => d.moments.mayMove);
  }

  /**
   * When it is to be looked again, in milliseconds since 1970; Infinity where nothing is to come. After a date has
   * moved it is looked again in a minute: it may go on moving with the time.
   */
  next(now: number): number {
    const times = this.clocks.map((c) => c.times.after(now) ?? Infinity);
    for (const { moments } of this.dates) times.push(moments.next(now), moments.takeMoved() ? now + LOOK_MS : Infinity);
    return Math.min(...times);
  }

  close(): void {
    for (const { moments } of this.dates) moments.close();
  }
}

/** The times that are made up for, or have come just now. */
function taken(times: number[], now: number, missed: Missed): number[] {
  const late = times.filter((at) => now - at > LATE_MS);
  const fresh = times.slice(late.length);
  if (missed === 'skip') return fresh;
  return [...late.slice(missed === 'once' ? -1 : -MOST_MISSED), ...fresh];
}

const lateWords = (at: number, now: number, missed: Missed): string =>
  now - at > LATE_MS ? `; it was missed, and is ${MISSED[missed]}` : '';

/** When a trigger comes for a date or a time, in milliseconds since 1970; null for any other value. */
export function momentOf(value: Value, t: Extract<Trigger, { on: 'date reached' }>, zone: string): number | null {
  const sign = t.way === 'on' ? 0 : t.way === 'before' ? -1 : 1;
  const days = t.unit === 'days' ? sign * t.many * DAY_MS : 0;
  const passing = t.unit === 'days' ? 0 : sign * t.many * (t.unit === 'hours' ? 60 * MINUTE : MINUTE);
  let wall: number;
  if (value instanceof CalendarDate) {
    const minutes = minutesOf(t.time);
    if (minutes === null) return null;
    wall = value.day * DAY_MS + minutes * MINUTE;
  } else if (value instanceof DateTime) {
    if (value.offset !== null) return value.instant + days + passing;
    wall = value.ms;
  } else return null;
  const at = onClock(wall + days, zone);
  return at && at.instant + passing;
}
