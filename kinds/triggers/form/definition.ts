import { oneOf, optional, table } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

const HOW = { saved: 'is saved', refused: 'is refused' } as const;

/** A form of a table was saved, which gives the record; or refused, which gives the one that was to be changed. */
export const form = defineTrigger({
  on: 'form',
  said: { group: 'When a form is saved', name: 'a form is saved or refused' },
  properties: {
    table: table('the table of the form', {
      unfilled: { severity: 'stops', said: 'the table of its form is not chosen.' },
    }),
    how: oneOf('what happens to it', HOW),
    /** What the routine writes is saved with the form, all or nothing; where it fails, nothing is saved. */
    within: optional(oneOf('when it runs', { after: 'afterwards', part: 'as part of the save, all or nothing' })),
  },
  knows: ['what was wrong'],
}).does({
  begin: (app) => ({ table: app.tables[0]?.id ?? '', how: 'saved' }),
  starters: (app, routine) =>
    startersKept<{ on: 'form'; table?: string; how?: keyof typeof HOW }>(app, routine, 'form', (t) => {
      const found = app.tables.find((x) => x.id === t.table);
      return found ? { said: `the form of ${found.name} ${HOW[t.how ?? 'saved']}` } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'form' &&
    happening.table === trigger.table &&
    happening.how === trigger.how &&
    // A routine that is part of a save is asked before it, and not again afterwards.
    (happening.before ?? false) === (trigger.within === 'part' && happening.how === 'saved') && {
      record: happening.record,
      ...(happening.problems !== undefined && { knows: { 'what was wrong': happening.problems } }),
    },
});
