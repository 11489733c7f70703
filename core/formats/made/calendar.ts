import { createEvents, type DateTime, type EventAttributes } from 'ics';
import { foldedAnew } from './fold.ts';
import type { MadeEvent, MadeTime } from '../../routines/made.ts';

/** The name by which a program that writes calendars says who it is (RFC 5545, 3.7.3). */
const PRODUCT = '-//Mellow Kite//Routines//EN';

/** Events as iCalendar (RFC 5545). Days last from midnight to midnight, the last one with them. */
export function calendarText(events: readonly MadeEvent[]): string {
  const { error, value } = createEvents(
    events.map((e): EventAttributes => {
      const about = {
        productId: PRODUCT,
        uid: `${e.id}@mellow-kite.example`,
        title: lines(e.title),
        ...(e.place && { location: lines(e.place) }),
        ...(e.words && { description: lines(e.words) }),
        start: partsOf(e.start),
        startInputType: 'moment' in e.start ? ('utc' as const) : ('local' as const),
        startOutputType: 'moment' in e.start ? ('utc' as const) : ('local' as const),
        endInputType: 'moment' in e.start ? ('utc' as const) : ('local' as const),
        endOutputType: 'moment' in e.start ? ('utc' as const) : ('local' as const),
      };
      if (e.end) return { ...about, end: 'day' in e.end ? dayAfter(e.end.day) : partsOf(e.end) };
      return 'day' in e.start ? { ...about, end: dayAfter(e.start.day) } : { ...about, duration: { minutes: e.lasts } };
    }),
  );
  if (error || value === null) throw new Error(`The calendar file cannot be made: ${error?.message ?? 'it is empty'}.`);
  // The package counts letters where the standard counts bytes.
  return foldedAnew(value);
}

/** Every end of a line as the one that is written for it; other control characters have no place in a calendar. */
const lines = (words: string): string =>
  words.replace(/\r\n?|[\v\f\u0085\u2028\u2029]/g, '\n').replace(/(?!\n)\p{Cc}/gu, '');

/** Year, month, day, and with a time hour and minute. */
function partsOf(t: MadeTime): DateTime {
  const text = 'moment' in t ? new Date(t.moment).toISOString() : 'day' in t ? t.day : t.clock;
  const [year, month, day, hour, minute] = /^(\d+)-(\d+)-(\d+)(?:T(\d+):(\d+))?/.exec(text)!.slice(1).map(Number);
  if (year! < 1000) throw new Error(`A calendar file holds no day before the year 1000: ${text.slice(0, 10)}.`);
  return 'day' in t ? [year!, month!, day!] : [year!, month!, day!, hour!, minute!];
}

/** The day behind the last one: an end is not part of an event. */
function dayAfter(day: string): DateTime {
  const next = new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000);
  return [next.getUTCFullYear(), next.getUTCMonth() + 1, next.getUTCDate()];
}
