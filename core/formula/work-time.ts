import { offsetAt, onClock } from './zones.ts';

/** When work is done, by the clocks of a zone. */
export interface WorkTimes {
  /**
   * Of each weekday, Monday first, the times in which work is done, in minutes from midnight: in order, none in another.
   * One may end at 1440, which is the next midnight.
   */
  readonly days: readonly (readonly (readonly [from: number, until: number])[])[];
  /** Days without work, as dates (ISO 8601). */
  readonly free: readonly string[];
  /** IANA name; without one the clocks of the app never change. */
  readonly zone?: string | undefined;
}

const DAY = 86_400_000;
const MINUTE = 60_000;
/** So many days are gone through at most: twenty years. */
const MOST_DAYS = 7320;

/** What of a day is worked, in instants (milliseconds since 1970; of the clock itself where there is no zone). */
type Piece = readonly [from: number, until: number];

/** Knows when work is done on each day; what it has worked out of a day it keeps. */
export class WorkCalendar {
  private readonly free: ReadonlySet<number>;
  private readonly known = new Map<number, readonly Piece[]>();

  get zone(): string | undefined {
    return this.times.zone;
  }

  constructor(private readonly times: WorkTimes) {
    this.free = new Set(times.free.map((d) => Date.parse(`${d}T00:00:00Z`) / DAY));
  }

  /** Is any work done at all? */
  get works(): boolean {
    return this.times.days.some((d) => d.length > 0);
  }

  /** A moment on the app's clock (milliseconds as if it were UTC) as an instant. */
  instantOf(wall: number): number {
    const { zone } = this.times;
    return (zone && onClock(wall, zone)?.instant) || wall;
  }
  /** An instant as the app's clock shows it. */
  wallOf(instant: number): number {
    const { zone } = this.times;
    return instant + (zone ? (offsetAt(zone, instant) ?? 0) * MINUTE : 0);
  }

  /** What of a day (counted from 1970-01-01) is worked. */
  private on(day: number): readonly Piece[] {
    const known = this.known.get(day);
    if (known) return known;
    // 1970-01-01 was a Thursday.
    const times = this.free.has(day) ? [] : (this.times.days[(((day + 3) % 7) + 7) % 7] ?? []);
    const pieces = times
      .map(([from, until]): Piece => [
        this.instantOf(day * DAY + from * MINUTE),
        this.instantOf(day * DAY + until * MINUTE),
      ])
      .filter(([from, until]) => until > from);
    if (this.known.size > MOST_DAYS) this.known.clear();
    this.known.set(day, pieces);
    return pieces;
  }

  /**
   * How much of the time between two instants is worked, in milliseconds; less than nothing where the second comes first,
   * null over more than twenty years.
   */
  between(from: number, until: number): number | null {
    if (until < from) {
      const back = this.between(until, from);
      return back === null ? null : -back;
    }
    const last = Math.floor(this.wallOf(until) / DAY);
    let day = Math.floor(this.wallOf(from) / DAY) - 1;
    if (last - day > MOST_DAYS) return null;
    let sum = 0;
    for (; day <= last; day++)
      for (const [a, b] of this.on(day)) sum += Math.max(0, Math.min(b, until) - Math.max(a, from));
    return sum;
  }

  /** The instant at which so much has been worked since another; null where that is never, or not within twenty years. */
  after(from: number, ms: number): number | null {
    if (ms < 0) return null;
    let left = ms;
    const first = Math.floor(this.wallOf(from) / DAY) - 1;
    for (let day = first; day - first <= MOST_DAYS; day++)
      for (const [a, b] of this.on(day)) {
        const begins = Math.max(a, from);
        if (b <= begins) continue;
        if (left <= b - begins) return begins + left;
        left -= b - begins;
      }
    return null;
  }

  /** Is work done at an instant? */
  isAt(instant: number): boolean {
    const day = Math.floor(this.wallOf(instant) / DAY);
    return [day - 1, day].some((d) => this.on(d).some(([a, b]) => a <= instant && instant < b));
  }
}

const calendars = new WeakMap<object, WorkCalendar>();

/** The calendar of an app, the same as long as it says the same; null where it does not say when work is done. */
export function workOf({
  work,
  zone,
}: {
  work?: Pick<WorkTimes, 'days' | 'free'> | undefined;
  zone?: string | undefined;
}): WorkCalendar | null {
  if (!work) return null;
  let made = calendars.get(work);
  if (made?.zone !== zone || !made) calendars.set(work, (made = new WorkCalendar({ ...work, zone })));
  return made;
}
