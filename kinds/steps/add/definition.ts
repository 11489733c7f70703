import { fieldValues, optional, result, table, text, yesNo } from '../../../core/document/meaning.ts';
import { recordWithKey } from '../../../core/records/checks.ts';
import { Row } from '../../../core/records/row.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

export const add = defineStep({
  do: 'add',
  said: { name: 'Add a record', hint: '' },
  properties: {
    table: table('the table to add to', {
      unfilled: { severity: 'stops', said: 'the table to add to is not chosen.' },
    }),
    values: fieldValues('a value', 'table', {
      unfilled: { severity: 'stops', said: 'a step sets no field yet.' },
    }),
    /** Changes the record with the same key where there is one. */
    update: optional(yesNo('add or change')),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ table: '', values: [], result: id('v'), resultName: 'new record' }),
  gives: (step) => ({ k: 'record', table: step.table }),
  start(step, s) {
    const store = s.records.stores.get(step.table);
    const model = s.records.model.tables.get(step.table);
    if (!store || !model) throw new StepError('The table to add to is not chosen yet.');
    const { cells, said } = s.cells(step.table, step.values);
    const there = step.update ? recordWithKey(store, cells) : null;
    const record = there?.id ?? s.newId();
    s.allow(step.table, record, cells);
    const what = said.length ? `: ${said.map(([f, v]) => `${f} ${v}`).join(', ')}` : '';
    return {
      ask: { ask: 'write', drafts: [{ do: 'set', table: step.table, record, cells }], together: false },
      kept: {
        record,
        said: `${there ? 'Changed the' : 'Added a'} ${model.table.one}${what}`,
        gave: there ? 'changed' : 'added',
      },
    };
  },
  answered(step, s, kept, value) {
    const { record, said, gave } = kept as { record: string; said: string; gave: string };
    // A service has its own name for what it adds.
    const row = value instanceof Row ? value : (s.records.row(step.table, record) ?? null);
    return { did: { said, gave: row?.title() ?? gave, result: row } };
  },
});
