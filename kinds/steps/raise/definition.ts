import { MOST_TOGETHER } from '../../../core/document/limits.ts';
import { fieldValues, formula, oneOf } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { cellsAfter } from '../../../core/records/raise.ts';
import type { Draft } from '../../../core/records/change.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { amountsOf } from './amounts.ts';

/**
 * Adds amounts to numbers of a record, or of several. The amounts of all phones come together, also of those that were
 * offline, where setting a sum would lose what others added meanwhile.
 */
export const raise = defineStep({
  do: 'raise',
  said: { name: 'Raise or lower', hint: 'a number of a record by an amount: add to, increase, decrease, subtract' },
  properties: {
    how: oneOf('which way', { raise: 'Raise', lower: 'Lower' }),
    record: formula('the record with the number', 'record', {
      unfilled: { severity: 'stops', said: 'the record with the number to raise is not filled in yet.' },
    }),
    values: fieldValues('an amount', 'record', {
      unfilled: { severity: 'stops', said: 'a step raises no number yet.' },
    }),
  },
}).does({
  begin: () => ({ how: 'raise', record: '', values: [] }),
  start(step, s) {
    const rows = s.someRecords(step.record, 'The record with the number');
    const [first] = rows;
    if (!first) return { did: { said: 'There was no record with a number to raise', gave: 'none' } };
    if (rows.length > MOST_TOGETHER)
      throw new StepError(`At most ${MOST_TOGETHER.toLocaleString('en-GB')} records can be changed together.`);
    const amounts = amountsOf(step.values, first.tableId, s);
    const sign = step.how === 'lower' ? -1 : 1;
    const by = Object.fromEntries(amounts.map(({ field, amount }) => [field.id, sign * amount]));
    const after = rows.map((row) => {
      const cells = cellsAfter(s.records, { do: 'raise', table: row.tableId, record: row.id, by });
      s.allow(row.tableId, row.id, cells);
      return cells;
    });
    const drafts = rows.map((row): Draft => ({ do: 'raise', table: row.tableId, record: row.id, by }));
    const whose = rows.length === 1 ? first.title() : `${rows.length.toLocaleString('en-GB')} records`;
    const said = amounts.map(({ field, amount }) => `${field.name} by ${display(amount, field)}`).join(', ');
    const now = amounts.map(({ field }) => display(after[0]![field.id] ?? null, field)).join(', ');
    return {
      ask: { ask: 'write', drafts, together: rows.length > 1 },
      did: {
        said: `${step.how === 'lower' ? 'Lowered' : 'Raised'} ${whose} › ${said}`,
        gave: rows.length === 1 ? now : whose,
      },
    };
  },
});
