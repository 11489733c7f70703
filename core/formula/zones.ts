import { DateTime } from './values.ts';

/** Time zones by their IANA names, with the tables that the browser has. Offsets are minutes. */

const KEPT = 40;
const formats = new Map<string, Intl.DateTimeFormat | null>();

function formatOf(zone: string): Intl.DateTimeFormat | null {
  let format = formats.get(zone);
  if (format !== undefined) return format;
  try {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      era: 'short',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
  } catch {
    format = null; // there is no such zone
  }
  if (formats.size >= KEPT) formats.clear();
  formats.set(zone, format);
  return format;
}

/** Offsets that were worked out, by zone and second: the same instants are asked for again and again. */
const offsets = new Map<string, Map<number, number>>();
const MOST_OFFSETS = 50_000;

/** How far a zone is ahead of UTC at an instant, in minutes; null when there is no such zone. */
export function offsetAt(zone: string, instant: number): number | null {
  const second = Math.floor(instant / 1000) * 1000;
  const kept = offsets.get(zone)?.get(second);
  if (kept !== undefined) return kept;
  if (/^(Z|UTC|Etc\/UTC)$/i.test(zone)) return 0;
  const format = formatOf(zone);
  // The calendar of JavaScript ends 8.64e15 ms from its beginning; no zone changes out there.
  if (!format || Math.abs(instant) > 8.64e15) return format && 0;
  if (!(offsets.size < KEPT || offsets.has(zone))) offsets.clear();
  const known = offsets.get(zone) ?? new Map<number, number>();
  offsets.set(zone, known);
  if (known.size >= MOST_OFFSETS) known.clear();
  const offset = workedOut(format, second);
  known.set(second, offset);
  return offset;
}

function workedOut(format: Intl.DateTimeFormat, second: number): number {
  const part = Object.fromEntries(format.formatToParts(new Date(second)).map((x) => [x.type, x.value]));
  const n = (type: string): number => Number(part[type]);
  const wall = new Date(0);
  wall.setUTCFullYear(part['era'] === 'BC' ? 1 - n('year') : n('year'), n('month') - 1, n('day'));
  wall.setUTCHours(n('hour'), n('minute'), n('second'));
  return (wall.getTime() - second) / 60_000;
}

/** An instant as the clocks of a zone show it. */
export function inZone(instant: number, zone: string): DateTime | null {
  const offset = offsetAt(zone, instant);
  return offset === null ? null : new DateTime(instant + offset * 60_000, offset, zone);
}

const DAY = 86_400_000;

/**
 * What the clocks of a zone show as an instant. Of two instants that show the same the earlier is meant; a time that
 * the clocks leave out is as much later (as java.time and ECMAScript Temporal do it).
 */
export function onClock(wall: number, zone: string): DateTime | null {
  const [before, after] = [offsetAt(zone, wall - DAY), offsetAt(zone, wall + DAY)];
  if (before === null || after === null) return null;
  const found = [before, after]
    .map((offset) => wall - offset * 60_000)
    .filter((instant) => instant + offsetAt(zone, instant)! * 60_000 === wall);
  return inZone(found.length ? Math.min(...found) : wall - before * 60_000, zone);
}
