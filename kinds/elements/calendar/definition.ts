import { field, number, oneOf, optional } from '../../../core/document/meaning.ts';
import { civil, dateText, dayNumber, daysInMonth, parseDate, parts, weekday } from '../../../core/formula/temporal.ts';
import { CalendarDate, DateTime, type Value } from '../../../core/formula/values.ts';
import { dateWords } from '../../../core/records/format.ts';
import type { Row } from '../../../core/records/row.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { type ShownRecords } from '../../../core/screens/shown.ts';
import { begun, FILTERS, forEach, QUERY, searchAbove, whenEmpty } from '../of-records.ts';
import { recordsOf } from '../records-drawn.ts';

/** Records of a day that are drawn; nobody reads more on a phone without a list. */
const MOST_A_DAY = 200;

/** A month with the records of each day; those of the chosen day stand below. */
export const calendar = defineElement({
  kind: 'calendar',
  said: { name: 'Calendar', hint: 'records by day' },
  needs: 'table',
  properties: {
    ...QUERY,
    by: field('the day of a record', 'query', {
      unfilled: { severity: 'stops', said: 'which date a record stands at is not chosen.' },
    }),
    until: optional(field('the last day of a record', 'query')),
    gap: number('the gap', 0, 64),
    surface: oneOf('the row surface', { none: 'none', card: 'card', tint: 'tint' }),
    ...searchAbove('the month'),
    ...FILTERS,
    ...forEach('its rows', 50, 'its rows show nothing yet.'),
    ...whenEmpty('for a day without records'),
  },
}).does({
  begin: ({ table, row }) => ({
    ...begun(table, table ? [row(table)] : []),
    by: table?.fields.find((f) => f.type === 'date' || f.type === 'datetime')?.id ?? '',
    gap: 8,
    surface: 'card',
    search: false,
    empty: 'Nothing on this day.',
  }),
  name: (e, naming) => `Calendar of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  draw(e, d) {
    const shown = recordsOf(d, e);
    const by = readField(d, e.query.table, e.by);
    const until = readField(d, e.query.table, e.until);
    const today = d.formula('today()');
    const known = new WeakMap<ShownRecords, Map<number, Row[]>>();
    const daysOf = (now: ShownRecords): Map<number, Row[]> => {
      const there = known.get(now) ?? byDay(now.rows, by?.get, until?.get);
      known.set(now, there);
      return there;
    };
    return (p) => {
      const { now, around } = shown(p);
      const days = daysOf(now);
      const t = today.at(p);
      const here = t instanceof CalendarDate ? t.day : 0;
      const chosen = typedDay(p.view['day']) ?? here;
      const month = monthOf(p.view['month'], chosen);
      const first = dayNumber(month.year, month.month, 1);
      const rows = days.get(chosen) ?? [];
      return {
        ...around,
        gap: e.gap,
        surface: e.surface,
        without: days.get(NaN)?.length ?? 0,
        year: month.year,
        month: month.month,
        /** Empty places before the first of the month, with Monday first. */
        lead: weekday(new CalendarDate(first)) - 1,
        counts: Array.from(
          { length: daysInMonth(month.year, month.month) },
          (_, i) => days.get(first + i)?.length ?? 0,
        ),
        today: dateText(new CalendarDate(here)),
        chosen: dateText(new CalendarDate(chosen)),
        chosenWords: dateWords(new CalendarDate(chosen)),
        onDay: rows.length,
        rows: rows.slice(0, MOST_A_DAY),
      };
    };
  },
});

const dayOf = (v: Value): number | null =>
  v instanceof CalendarDate ? v.day : v instanceof DateTime ? parts(v).date.day : null;

/** Longer than this a record stands only at its first day: its end is likely wrong, and the map would grow without bound. */
const LONGEST = 366;

/** The records of each day; those without one under NaN. A record with a last day stands at every day until then. */
function byDay(rows: readonly Row[], from?: (r: Row) => Value, until?: (r: Row) => Value): Map<number, Row[]> {
  const days = new Map<number, Row[]>();
  for (const row of rows) {
    const first = from ? dayOf(from(row)) : null;
    const end = until ? dayOf(until(row)) : null;
    const last = first !== null && end !== null && end > first && end - first <= LONGEST ? end : first;
    for (let day = first ?? NaN; ; day++) {
      const there = days.get(day);
      if (there) there.push(row);
      else days.set(day, [row]);
      if (last === null || !(day < last)) break;
    }
  }
  return days;
}

const typedDay = (v: unknown): number | null => (typeof v === 'string' ? (parseDate(v)?.day ?? null) : null);

/** The month in view as "2026-11"; the one of a day when none is. */
function monthOf(v: unknown, day: number): { year: number; month: number } {
  const found = typeof v === 'string' ? /^(\d{4})-(\d{2})$/.exec(v) : null;
  const month = found ? { year: Number(found[1]), month: Number(found[2]) } : null;
  return month && month.month >= 1 && month.month <= 12 ? month : civil(day);
}
