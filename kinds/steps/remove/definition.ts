import { MOST_TOGETHER } from '../../../core/document/limits.ts';
import { formula } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Removes one record, or several, all of them or none. */
export const remove = defineStep({
  do: 'remove',
  said: { name: 'Remove a record', hint: 'or several' },
  properties: {
    record: formula('the record to remove', 'record', {
      unfilled: { severity: 'stops', said: 'the record to remove is not filled in yet.' },
    }),
  },
}).does({
  begin: () => ({ record: '' }),
  start(step, s) {
    const rows = s.someRecords(step.record, 'The record to remove');
    const [first] = rows;
    if (!first) return { did: { said: 'There was no record to remove', gave: 'none' } };
    if (rows.length > MOST_TOGETHER)
      throw new StepError(`At most ${MOST_TOGETHER.toLocaleString('en-GB')} records can be removed together.`);
    const drafts = rows.map((row) => ({ do: 'remove' as const, table: row.tableId, record: row.id }));
    const whose = rows.length === 1 ? first.title() : `${rows.length.toLocaleString('en-GB')} records`;
    return {
      ask: { ask: 'write', drafts, together: rows.length > 1 },
      did: { said: `Removed ${whose}`, gave: 'removed' },
    };
  },
});
