import type { App } from '../app/schema.ts';
import { inZone, onClock } from '../formula/zones.ts';

const DAY = 86_400_000;
const MINUTE = 60_000;

/** The zone that the times of a scene are of: that of the app, or where it has none that of the device. */
export const zoneOf = (app: App): string => app.zone ?? new Intl.DateTimeFormat().resolvedOptions().timeZone;

const wallAt = (app: App, at: number): number => {
  const offset = inZone(at, zoneOf(app))?.offset ?? 0;
  return at + offset * MINUTE;
};

/** A moment as a time of day, so many days after another; null where it is not a whole minute. */
export function timeOfDay(app: App, from: number, to: number): { days: number; time: string } | null {
  const [a, b] = [wallAt(app, from), wallAt(app, to)];
  if (b % MINUTE !== 0) return null;
  return { days: Math.floor(b / DAY) - Math.floor(a / DAY), time: new Date(b).toISOString().slice(11, 16) };
}

/** When the clocks show a time of day, so many days after a moment; today’s that is over is tomorrow’s. */
export function nextTime(app: App, from: number, days: number, time: string): number {
  const day = Math.floor(wallAt(app, from) / DAY) + days;
  const [h = 0, m = 0] = time.split(':').map(Number);
  const wall = day * DAY + (h * 60 + m) * MINUTE;
  const at = (w: number): number => onClock(w, zoneOf(app))?.instant ?? w;
  return days === 0 && at(wall) < from ? at(wall + DAY) : at(wall);
}
