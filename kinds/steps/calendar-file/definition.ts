import { field, number, optional, query, result, text, words } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { dateText, dateTimeText } from '../../../core/formula/temporal.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { CalendarDate, DateTime, type Value } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { columnOf, countOf, linesOf, nameOfFile } from '../../../core/routines/columns.ts';
import type { MadeEvent, MadeTime } from '../../../core/routines/made.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Writes records down as events that calendars take: iCalendar (RFC 5545). */
export const calendarFile = defineStep({
  do: 'calendar file',
  said: { name: 'Make a calendar file', hint: 'iCalendar' },
  only: 'phone',
  properties: {
    name: words('the name of the file', { unfilled: { severity: 'stops', said: 'the calendar file has no name.' } }),
    query: query('which records', {
      unfilled: { severity: 'stops', said: 'the events of a calendar file are not chosen.' },
    }),
    starts: field('when they begin', 'query', {
      unfilled: { severity: 'stops', said: 'when the events of a calendar file begin is not chosen.' },
    }),
    ends: optional(field('when they end', 'query')),
    lasts: number('minutes each lasts otherwise', 5, 1440, { whole: true }),
    place: optional(field('where they are', 'query')),
    words: optional(field('what is said of them', 'query')),
    result: result('the file'),
    resultName: text('the file'),
  },
}).does({
  begin: ({ id }) => ({
    name: '',
    query: allOf(NO_TABLE),
    starts: '',
    lasts: 60,
    result: id('v'),
    resultName: 'the calendar file',
  }),
  gives: () => TEXT,
  start(step, s) {
    const name = nameOfFile(s.words(step.name), 'ics');
    const rows = linesOf(s, step.query);
    const begins = columnOf(s, step.query, step.starts);
    if (!begins) throw new StepError('When the events begin is not chosen yet.');
    const [ends, place, words] = [step.ends, step.place, step.words].map((id) => columnOf(s, step.query, id));
    const events = rows.flatMap((r): MadeEvent[] => {
      const start = timeOf(begins.get(r));
      if (!start) return [];
      const end = ends ? timeOf(ends.get(r)) : null;
      if (end && (Object.keys(end)[0] !== Object.keys(start)[0] || isBefore(end, start)))
        throw new StepError(`${r.title()} ends before it begins, or one of both has no time of day.`);
      return [
        {
          id: r.id,
          title: r.title(),
          start,
          end,
          lasts: step.lasts,
          place: place ? display(place.get(r), place.field) : '',
          words: words ? display(words.get(r), words.field) : '',
        },
      ];
    });
    const without = rows.length - events.length;
    if (events.length === 0) throw new StepError(`None of them says when it begins: ${begins.field.name} is empty.`);
    return {
      ask: { ask: 'device', what: { do: 'make', file: { is: 'calendar', name, events } } },
      kept: `Wrote ${countOf(s, step.query, events.length)} into ${name}${without ? `, without ${without} that ${without === 1 ? 'has' : 'have'} no ${begins.field.name}` : ''}`,
    };
  },
  answered: (_step, _s, kept, value) => ({ did: { said: String(kept), gave: 'a file', result: value } }),
});

function timeOf(v: Value): MadeTime | null {
  if (v instanceof CalendarDate) return { day: dateText(v) };
  if (!(v instanceof DateTime)) return null;
  if (v.offset === null && v.zone === null) return { clock: dateTimeText(v) };
  return { moment: v.instant };
}

const isBefore = (a: MadeTime, b: MadeTime): boolean => Object.values(a)[0]! < Object.values(b)[0]!;
