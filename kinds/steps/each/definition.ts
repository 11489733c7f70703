import { number, optional, query, result, steps, text } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { Row } from '../../../core/records/row.ts';
import { defineStep, StepError, type Outcome, type StepScope } from '../../../core/routines/step.ts';

/** As many turns as there can be steps to take in them. */
const MOST_TURNS = 50_000;
/** A phone and a host have that much patience. */
export const MOST_AT_ONCE = 20;

interface Kept {
  table: string;
  /** The records that were found at its beginning, by id. */
  ids: string[];
  at: number;
}

/**
 * Does its steps once for each record that is found, in their order or several at once. Records that go meanwhile are
 * passed over.
 */
export const each = defineStep({
  do: 'each',
  said: { name: 'For each', hint: 'record that is found' },
  properties: {
    query: query('which records', {
      unfilled: { severity: 'stops', said: 'the records of “For each” are not chosen.' },
    }),
    result: result('the record of a turn'),
    resultName: text('the record of a turn'),
    atOnce: optional(number('how many at once', 2, MOST_AT_ONCE, { whole: true })),
    steps: steps('what happens with each', 200),
  },
}).does({
  begin: ({ id }) => ({
    query: allOf(NO_TABLE),
    result: id('v'),
    resultName: 'this one',
    steps: [],
  }),
  gives: (step) => ({ k: 'record', table: step.query.table }),
  start(step, s) {
    const { table } = step.query;
    const one = s.records.model.tables.get(table)?.table.one;
    if (one === undefined) throw new StepError('The records of “For each” are not chosen yet.');
    const rows = s.find(step.query);
    if (rows.length > MOST_TURNS)
      throw new StepError(
        `“For each” found ${rows.length.toLocaleString('en-GB')} records; it takes at most ${MOST_TURNS.toLocaleString('en-GB')} turns. Give it conditions or a limit.`,
      );
    return turn({ table, ids: rows.map((r) => r.id), at: -1 }, s, one, step.atOnce);
  },
  nextTurn: (step, s, kept) =>
    turn(kept as unknown as Kept, s, s.records.model.tables.get(step.query.table)?.table.one ?? '', step.atOnce),
});

/** The next turn, or the end. */
function turn({ table, ids, at }: Kept, s: StepScope, one: string, atOnce?: number): Outcome {
  for (let next = at + 1; next < ids.length; next++) {
    const row = s.records.row(table, ids[next]!);
    if (row instanceof Row)
      return {
        enter: 'steps',
        kept: { table, ids, at: next },
        ...(atOnce && { atOnce }),
        did: { said: `Turn ${next + 1} of ${ids.length}: ${row.title()}`, gave: row.title(), result: row },
      };
  }
  const count = ids.length === 1 ? `1 ${one}` : `${ids.length.toLocaleString('en-GB')} turns`;
  return { did: { said: ids.length ? `Went through ${count}` : `There was no ${one}`, gave: count } };
}
