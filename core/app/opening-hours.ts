import type { WorkTimes } from '../formula/work-time.ts';
import { MOST_TIMES } from './work-schema.ts';

type Day = WorkTimes['days'][number];

export const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** Monday to Friday, nine to five. */
export const usualWeek = (): [number, number][][] =>
  WEEKDAYS.map((_, i): [number, number][] => (i < 5 ? [[540, 1020]] : []));

const clock = (minutes: number): string => `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`;

/** The times of a day as people write them: "9:00–12:30, 13:30–17:00"; empty for none. */
export const timesText = (times: Day): string =>
  times.map(([from, until]) => `${clock(from)}–${clock(until)}`).join(', ');

/** What people type as the times of a day, in minutes from midnight; why not, in words, where it is none. */
export function readTimes(typed: string): { times: [number, number][] } | { problem: string } {
  const text = typed.trim();
  if (!text || /^(closed|none|-|–)$/i.test(text)) return { times: [] };
  const times: [number, number][] = [];
  for (const part of text.split(/[,;]|\band\b/i).map((p) => p.trim())) {
    if (!part) continue;
    const m = /^(\d{1,2})(?:[:.h](\d{2}))?\s*(?:-|–|—|to|until)\s*(\d{1,2})(?:[:.h](\d{2}))?$/i.exec(part);
    if (!m) return { problem: `“${part}” is no time from and until. Type one such as 9:00–17:00.` };
    const [from, until] = [minutes(m[1]!, m[2]), minutes(m[3]!, m[4])];
    if (from === null || until === null) return { problem: `“${part}” is beyond the hours of a day.` };
    if (from >= until) return { problem: `“${part}” ends before it begins. For hours past midnight type two days.` };
    times.push([from, until]);
  }
  times.sort(([a], [b]) => a - b);
  if (times.some(([from], i) => i > 0 && times[i - 1]![1] > from)) return { problem: 'Two of these times overlap.' };
  return times.length > MOST_TIMES ? { problem: `A day has ${MOST_TIMES} times at most.` } : { times };
}

function minutes(hours: string, more: string | undefined): number | null {
  const all = Number(hours) * 60 + Number(more ?? 0);
  return Number(more ?? 0) < 60 && all <= 1440 ? all : null;
}

/** What people type as days off, as dates with commas or lines between; each once and in order. */
export function readFreeDays(typed: string): { free: string[] } | { problem: string } {
  const parts = typed
    .split(/[\s,;]+/)
    .map((p) => p.trim())
    .filter(Boolean);
  const wrong = parts.find((p) => !isDay(p));
  if (wrong) return { problem: `“${wrong}” is no date. Type it as 2026-12-25.` };
  return { free: [...new Set(parts)].sort() };
}

const isDay = (text: string): boolean => {
  const at = /^\d{4}-\d\d-\d\d$/.test(text) ? Date.parse(`${text}T00:00:00Z`) : NaN;
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(text);
};
