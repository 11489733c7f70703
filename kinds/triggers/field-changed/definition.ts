import { field, table } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A person has given a field of a record another value here, in a form or an input. What routines set starts nothing. */
export const fieldChanged = defineTrigger({
  on: 'field changed',
  said: { group: 'When a value changes', name: 'a person changes a value' },
  properties: {
    table: table('the table', {
      unfilled: { severity: 'stops', said: 'the table whose value changes is not chosen.' },
    }),
    field: field('the field', 'table', {
      unfilled: { severity: 'stops', said: 'the field whose value changes is not chosen.' },
    }),
  },
  knows: ['value before', 'value now'],
}).does({
  begin: (app) => ({ table: app.tables[0]?.id ?? '', field: '' }),
  starters: (app, routine) =>
    startersKept<{ on: 'field changed'; table?: string; field?: string }>(app, routine, 'field changed', (t) => {
      const of = app.tables.find((x) => x.id === t.table);
      const found = of?.fields.find((f) => f.id === t.field);
      return found ? { said: `${found.name} of ${of!.name} changes` } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'field changed' &&
    happening.table === trigger.table &&
    happening.field === trigger.field && {
      record: happening.record,
      knows: { 'value before': happening.before, 'value now': happening.now },
    },
});
