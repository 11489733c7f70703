import { formula } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Shows what happened to a record, for those whom a rule lets look back at it, and puts back a value that they press. */
export const lookBack = defineStep({
  do: 'look back',
  said: { name: 'Show the history', hint: 'what changed in a record, when and by whom' },
  only: 'phone',
  properties: {
    record: formula('the record whose history is shown', 'record', {
      unfilled: { severity: 'stops', said: 'the record whose history is shown is not filled in yet.' },
    }),
  },
}).does({
  begin: () => ({ record: '' }),
  start(step, s) {
    const row = s.record(step.record, 'The record whose history is shown');
    return {
      ask: { ask: 'history', table: row.tableId, record: row.id },
      did: { said: `Showed the history of ${row.title()}`, gave: 'seen' },
    };
  },
});
