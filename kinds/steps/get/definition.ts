import { query, result, text } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** The first record that is found; nothing when there is none, or a failure where the maker says what to do then. */
export const get = defineStep({
  do: 'get',
  said: { name: 'Find one record', hint: 'the first that fits' },
  properties: {
    query: query('which record', { unfilled: { severity: 'stops', said: 'which record to find is not chosen.' } }),
    result: result('what was found'),
    resultName: text('what was found'),
  },
}).does({
  begin: ({ id }) => ({ query: allOf(NO_TABLE), result: id('v'), resultName: 'the one found' }),
  gives: (step) => ({ k: 'record', table: step.query.table }),
  start(step, s) {
    const one = s.records.model.tables.get(step.query.table)?.table.one;
    if (one === undefined) throw new StepError('Which record to find is not chosen yet.');
    const [row] = s.find(step.query);
    if (row) return { did: { said: `Found the ${one} ${row.title()}`, gave: row.title(), result: row } };
    const none = `There is no ${one} that fits.`;
    if (step.ifFails) throw new StepError(none);
    return { did: { said: none, gave: 'none', result: null } };
  },
});
