import { number, oneOf, optional, query, text } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';
import { DAYS, MISSED } from '../../../core/routines/times.ts';
import { scheduleWords } from '../../../core/routines/schedule.ts';

/** The clock of the app’s time zone shows a time. With a query the routine runs once for each record that it finds then. */
export const clock = defineTrigger({
  on: 'clock',
  at: 'host',
  said: { group: 'By the clock', name: 'it is time' },
  properties: {
    each: oneOf('how often', {
      minutes: 'every so many minutes',
      hours: 'every so many hours',
      day: 'every day',
      workday: 'Monday to Friday',
      week: 'every week',
      month: 'every month',
      once: 'once',
    }),
    every: number('how many', 1, 30, { whole: true }),
    weekday: oneOf('the weekday', DAYS),
    which: oneOf('which of the month', {
      first: 'the first',
      second: 'the second',
      third: 'the third',
      fourth: 'the fourth',
      last: 'the last',
      date: 'the day with the number',
    }),
    of: oneOf('of what', { day: 'day', ...DAYS }),
    number: number('the number of the day', 1, 31, { whole: true }),
    date: text('the date', 10),
    time: text('the time', 5),
    missed: oneOf('what was missed', MISSED),
    for: optional(query('for which records')),
  },
}).does({
  begin: () => ({
    each: 'day',
    every: 15,
    weekday: 'monday',
    which: 'last',
    of: 'day',
    number: 1,
    date: '',
    time: '9:00',
    missed: 'once',
  }),
  starters: (app, routine) =>
    startersKept<{ on: 'clock' } & Parameters<typeof scheduleWords>[0]>(app, routine, 'clock', (t) => ({
      said: scheduleWords(t),
    })),
});
