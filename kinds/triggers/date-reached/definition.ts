import { field, number, oneOf, text, where } from '../../../core/document/meaning.ts';
import { noConditions } from '../../../core/document/queries.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { MISSED } from '../../../core/routines/times.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';
import { watchedTable } from '../watched.ts';

/** A date or time in a field of a record is reached, or will be or was so long before. The routine is given the record. */
export const dateReached = defineTrigger({
  on: 'date reached',
  at: 'host',
  said: { group: 'By the clock', name: 'a date of a record is reached' },
  properties: {
    table: watchedTable,
    field: field('the date', 'table', {
      unfilled: { severity: 'stops', said: 'the field with the date is not chosen.' },
    }),
    way: oneOf('before or after', { before: 'before', on: 'on', after: 'after' }),
    many: number('how many', 0, 3650, { whole: true }),
    unit: oneOf('of what', { days: 'days', hours: 'hours', minutes: 'minutes' }),
    time: text('the time of a date', 5),
    where: where('as it is then', { of: 'table' }),
    missed: oneOf('what was missed', MISSED),
  },
  knows: ['name of the record'],
}).does({
  begin: (app) => {
    const of = app.tables.find((t) => t.fields.some(isDate)) ?? app.tables[0];
    return {
      table: of?.id ?? '',
      field: of?.fields.find(isDate)?.id ?? '',
      way: 'before',
      many: 3,
      unit: 'days',
      time: '9:00',
      where: noConditions(),
      missed: 'once',
    };
  },
  starters: (app, routine) =>
    startersKept<{ on: 'date reached'; table?: string; field?: string; way?: string; many?: number; unit?: string }>(
      app,
      routine,
      'date reached',
      (t) => {
        const of = app.tables.find((x) => x.id === t.table);
        const found = of?.fields.find((f) => f.id === t.field);
        if (!found) return null;
        return { said: `${t.way === 'on' ? 'on' : `${t.many} ${t.unit} ${t.way}`} ${found.name} of ${of!.name}` };
      },
    ),
});

const isDate = (f: { type?: string }): boolean => f.type === 'date' || f.type === 'datetime';
