import { nextTime, timesBetween, type Schedule } from '../routines/schedule.ts';

/** The times of a schedule, of which the next one is remembered: before it comes, nothing need be worked out again. */
export class KnownTime {
  /** No time lies between these two, in milliseconds since 1970: the second is the next after the first. */
  private from = 0;
  private next = -Infinity;

  constructor(
    private readonly schedule: Schedule,
    /** IANA name. */
    private readonly zone: string,
  ) {}

  /** The next time after an instant; null where there is none. As {@link nextTime}. */
  after(instant: number): number | null {
    if (this.from <= instant && instant < this.next) return this.next;
    const next = nextTime(this.schedule, this.zone, instant);
    if (next !== null) {
      this.from = instant;
      this.next = next;
    }
    return next;
  }

  /** The times after an instant, up to and including another. As {@link timesBetween}. */
  between(after: number, upTo: number): number[] {
    if (this.from <= after && upTo < this.next) return [];
    return timesBetween(this.schedule, this.zone, after, upTo);
  }
}
