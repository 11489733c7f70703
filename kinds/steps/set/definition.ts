import { fieldValues, formula } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

export const set = defineStep({
  do: 'set',
  said: { name: 'Set fields', hint: 'of a record' },
  properties: {
    record: formula('the record to set', 'record', {
      unfilled: { severity: 'stops', said: 'the record to set is not filled in yet.' },
    }),
    values: fieldValues('a value', 'record', {
      unfilled: { severity: 'stops', said: 'a step sets no field yet.' },
    }),
  },
}).does({
  begin: () => ({ record: '', values: [] }),
  start(step, s) {
    const row = s.record(step.record, 'The record to set');
    const { cells, said } = s.cells(row.tableId, step.values);
    s.allow(row.tableId, row.id, cells);
    return {
      ask: { ask: 'write', drafts: [{ do: 'set', table: row.tableId, record: row.id, cells }], together: false },
      did: {
        said: `Set ${row.title()} › ${said.map(([f, v]) => `${f} to ${v}`).join(', ')}`,
        gave: said.map(([, v]) => v).join(', '),
      },
    };
  },
});
