import { formula } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

export const remove = defineStep({
  do: 'remove',
  said: { name: 'Remove a record', hint: '' },
  properties: {
    record: formula('the record to remove', 'record', {
      unfilled: { severity: 'stops', said: 'the record to remove is not filled in yet.' },
    }),
  },
}).does({
  begin: () => ({ record: '' }),
  start(step, s) {
    const row = s.record(step.record, 'The record to remove');
    return {
      ask: { ask: 'write', drafts: [{ do: 'remove', table: row.tableId, record: row.id }], together: false },
      did: { said: `Removed ${row.title()}`, gave: 'removed' },
    };
  },
});
