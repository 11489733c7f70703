import { where } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';
import { watchedTable } from '../watched.ts';

/**
 * Conditions over a record begin to hold, whatever made them: its own values, those of records that its formulas read, or
 * the time. The routine is given the record.
 */
export const recordBecomes = defineTrigger({
  on: 'record becomes',
  at: 'host',
  said: { group: 'When something becomes so', name: 'something becomes so for a record' },
  properties: {
    table: watchedTable,
    where: where('what becomes so', {
      of: 'table',
      unfilled: { severity: 'stops', said: 'what is to become so is not filled in.' },
    }),
  },
  knows: ['name of the record'],
}).does({
  begin: (app) => ({
    table: app.tables[0]?.id ?? '',
    where: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
  }),
  starters: (app, routine) =>
    startersKept<{ on: 'record becomes'; table?: string }>(app, routine, 'record becomes', (t) => {
      const of = app.tables.find((x) => x.id === t.table);
      return of ? { said: `something becomes so in ${of.name}` } : null;
    }),
});
