import { fieldValues, formula } from '../../../core/document/meaning.ts';
import { MOST_TOGETHER } from '../../../core/document/limits.ts';
import type { Draft } from '../../../core/records/change.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Sets fields of one record, or of several to the same values, all of them or none. */
export const set = defineStep({
  do: 'set',
  said: { name: 'Set fields', hint: 'of one record or several' },
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
    const rows = s.someRecords(step.record, 'The record to set');
    const [first] = rows;
    if (!first) return { did: { said: 'There was no record to set', gave: 'none' } };
    const { cells, said } = s.cells(first.tableId, step.values);
    if (rows.length > MOST_TOGETHER)
      throw new StepError(`At most ${MOST_TOGETHER.toLocaleString('en-GB')} records can be set together.`);
    const drafts = rows.map((row): Draft => {
      s.allow(row.tableId, row.id, cells);
      return { do: 'set', table: row.tableId, record: row.id, cells };
    });
    const whose = rows.length === 1 ? first.title() : `${rows.length.toLocaleString('en-GB')} records`;
    return {
      ask: { ask: 'write', drafts, together: rows.length > 1 },
      did: {
        said: `Set ${whose} › ${said.map(([f, v]) => `${f} to ${v}`).join(', ')}`,
        gave: rows.length === 1 ? said.map(([, v]) => v).join(', ') : whose,
      },
    };
  },
});
