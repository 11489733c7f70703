import { optional, routine } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A run on the server has failed for good, so that somebody can be told. A routine is not started by its own failure. */
export const runFailed = defineTrigger({
  on: 'run failed',
  at: 'host',
  said: { group: 'When something fails', name: 'a run on the server fails' },
  properties: { of: optional(routine('which routine')) },
  knows: ['what failed', 'why it failed', 'name of the record'],
}).does({
  begin: () => ({}),
  starters: (app, id) =>
    startersKept<{ on: 'run failed'; of?: string }>(app, id, 'run failed', (t) => {
      const of = app.routines.find((r) => r.id === t.of);
      return { said: of ? `a run of ${of.name} fails` : 'a run on the server fails' };
    }),
});
