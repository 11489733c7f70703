import { fields, oneOf, optional, where } from '../../../core/document/meaning.ts';
import { noConditions } from '../../../core/document/queries.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';
import { watchedTable } from '../watched.ts';

/**
 * A record was added, changed or removed, wherever that was done. The host looks at the record as it was and as it is,
 * change by change. A routine is given the record; of one that was removed it knows the name alone.
 */
export const recordChanged = defineTrigger({
  on: 'record changed',
  at: 'host',
  said: { group: 'When records change', name: 'a record is added, changed or removed' },
  properties: {
    table: watchedTable,
    how: oneOf('what happens', {
      added: 'added',
      changed: 'changed',
      either: 'added or changed',
      removed: 'removed',
    }),
    fields: optional(fields('which fields', 'table')),
    was: where('as it was', { of: 'table' }),
    where: where('as it is', { of: 'table' }),
    by: oneOf('by whom', { anything: 'by anybody or anything', people: 'by people, not by routines on the server' }),
  },
  knows: ['value before', 'value now', 'name of the record'],
}).does({
  begin: (app) => ({
    table: app.tables[0]?.id ?? '',
    how: 'added',
    was: noConditions(),
    where: noConditions(),
    by: 'anything',
  }),
  starters: (app, routine) =>
    startersKept<{ on: 'record changed'; table?: string; how?: string; fields?: string[] }>(
      app,
      routine,
      'record changed',
      (t) => {
        const of = app.tables.find((x) => x.id === t.table);
        if (!of) return null;
        const named = of.fields.filter((f) => t.fields?.includes(f.id)).map((f) => f.name);
        const what = named.length && t.how === 'changed' ? `${named.join(' or ')} of ${of.name}` : of.name;
        const how = t.how === 'either' ? 'added to or changed' : t.how === 'added' ? 'added to' : t.how;
        return { said: `${what} ${named.length && t.how === 'changed' ? 'changes' : `is ${how}`}` };
      },
    ),
});
