import { query, result, text } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { listOf } from '../../../core/formula/types.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** As many records as a run keeps between its steps. */
const MOST = 10_000;

/** All records that fit, in order, for later steps. */
export const find = defineStep({
  do: 'find',
  said: { name: 'Find several records', hint: 'in an order' },
  properties: {
    query: query('which records', { unfilled: { severity: 'stops', said: 'which records to find is not chosen.' } }),
    result: result('what was found'),
    resultName: text('what was found'),
  },
}).does({
  begin: ({ id }) => ({ query: allOf(NO_TABLE), result: id('v'), resultName: 'those found' }),
  gives: (step) => listOf({ k: 'record', table: step.query.table }),
  start(step, s) {
    const table = s.records.model.tables.get(step.query.table)?.table;
    if (!table) throw new StepError('Which records to find is not chosen yet.');
    const rows = s.find(step.query);
    if (rows.length > MOST)
      throw new StepError(
        `${rows.length.toLocaleString('en-GB')} records were found; ${MOST.toLocaleString('en-GB')} at most can be kept. Give a limit.`,
      );
    const said = rows.length === 1 ? `1 ${table.one}` : `${rows.length.toLocaleString('en-GB')} of ${table.name}`;
    return { did: { said: `Found ${said}`, gave: String(rows.length), result: [...rows] } };
  },
});
