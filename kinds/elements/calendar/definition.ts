import { allOf } from '../../../core/document/queries.ts';
import {
  elements,
  field,
  fields,
  number,
  oneOf,
  optional,
  query,
  tap,
  words,
  yesNo,
} from '../../../core/document/meaning.ts';
import type { Query } from '../../../core/document/pieces.ts';
import { civil, dateText, dayNumber, daysInMonth, parseDate, parts, weekday } from '../../../core/formula/temporal.ts';
import { CalendarDate, DateTime, type Value } from '../../../core/formula/values.ts';
import { dateWords } from '../../../core/records/format.ts';
import type { Row } from '../../../core/records/row.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { shownRecords, type ShownRecords } from '../../../core/screens/shown.ts';
import { tapped } from '../../../core/screens/tapped.ts';

/** Records of a day that are drawn; nobody reads more on a phone without a list. */
const MOST_A_DAY = 200;

/** A month with the records of each day; those of the chosen day stand below. */
export const calendar = defineElement({
  kind: 'calendar',
  said: { name: 'Calendar', hint: 'records by day' },
  needs: 'table',
  properties: {
    query: query('its table', { unfilled: { severity: 'stops', said: 'its table is not chosen.' } }),
    by: field('the day of a record', 'query', {
      unfilled: { severity: 'stops', said: 'which date a record stands at is not chosen.' },
    }),
    until: optional(field('the last day of a record', 'query')),
    gap: number('the gap', 0, 64),
    surface: oneOf('the row surface', { none: 'none', card: 'card', tint: 'tint' }),
    search: yesNo('the search box', { true: 'above the month', false: 'none' }),
    filters: optional(fields('the filters that people set', 'query')),
    empty: words('the words for a day without records', {
      unfilled: { severity: 'look', said: 'the words for a day without records are missing.' },
    }),
    tap: tap('a tap', { inside: 'children' }),
    children: elements('its rows', 50, {
      each: true,
      brings: (e) => ({ row: (e['query'] as Query).table }),
      unfilled: { severity: 'look', said: 'its rows show nothing yet.' },
    }),
    /** In place of those words. */
    none: optional(elements('what is shown when there are none', 6)),
  },
}).does({
  begin: ({ table, row }) => ({
    query: allOf(table?.id ?? ''),
    by: table?.fields.find((f) => f.type === 'date' || f.type === 'datetime')?.id ?? '',
    gap: 8,
    surface: 'card',
    search: false,
    empty: 'Nothing on this day.',
    tap: { do: 'nothing' },
    children: table ? [row(table)] : [],
  }),
  name: (e, naming) => `Calendar of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  draw(e, d) {
    const shown = shownRecords(d, e);
    const by = readField(d, e.query.table, e.by);
    const until = readField(d, e.query.table, e.until);
    const today = d.formula('today()');
    const empty = d.words(e.empty);
    const known = new WeakMap<ShownRecords, Map<number, Row[]>>();
    const daysOf = (now: ShownRecords): Map<number, Row[]> => {
      const there = known.get(now) ?? byDay(now.rows, by?.get, until?.get);
      known.set(now, there);
      return there;
    };
    return (p) => {
      const now = shown(p);
      const days = daysOf(now);
      const t = today.at(p);
      const here = t instanceof CalendarDate ? t.day : 0;
      const chosen = typedDay(p.view['day']) ?? here;
      const month = monthOf(p.view['month'], chosen);
      const first = dayNumber(month.year, month.month, 1);
      const rows = days.get(chosen) ?? [];
      return {
        search: e.search,
        gap: e.gap,
        surface: e.surface,
        empty: empty(p),
        tap: tapped(e.tap),
        filters: now.filters,
        filtered: now.filtered,
        searched: now.searched,
        records: now.rows.length,
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
