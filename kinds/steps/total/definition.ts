import { fieldValues, oneOf, table } from '../../../core/document/meaning.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { display } from '../../../core/records/format.ts';
import { keyedId } from '../../../core/records/keyed-id.ts';
import { cellsAfter } from '../../../core/records/raise.ts';
import type { Row } from '../../../core/records/row.ts';
import { linkKey } from '../../../core/records/table-rows.ts';
import type { TableStore } from '../../../core/records/store.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { amountsOf } from '../raise/amounts.ts';

/**
 * Adds amounts to the numbers of the one record that has some values, such as a good and a place. Where there is none it
 * is made, once, however many phones do so at the same time without a network, and their amounts come together in it.
 */
export const total = defineStep({
  do: 'total',
  said: { name: 'Add to a total', hint: 'of a good and a place, say; begun where there is none' },
  properties: {
    how: oneOf('which way', { raise: 'Raise', lower: 'Lower' }),
    table: table('the table of the totals', {
      unfilled: { severity: 'stops', said: 'the table of the totals is not chosen.' },
    }),
    keys: fieldValues('what the total is of', 'table', {
      unfilled: { severity: 'stops', said: 'what the total is of is not filled in yet.' },
    }),
    values: fieldValues('an amount', 'table', {
      unfilled: { severity: 'stops', said: 'a step adds to no number yet.' },
    }),
  },
}).does({
  begin: () => ({ how: 'raise', table: '', keys: [], values: [] }),
  start(step, s) {
    const store = s.records.stores.get(step.table);
    const model = s.records.model.tables.get(step.table);
    if (!store || !model) throw new StepError('The table of the totals is not chosen yet.');
    const { cells: keys, said: ofWhat } = s.cells(step.table, step.keys);
    if (Object.keys(keys).length === 0) throw new StepError('What the total is of is not filled in yet.');
    const empty = Object.keys(keys).find((f) => linkKey(keys[f]) === null);
    if (empty !== undefined)
      throw new StepError(`There is no total without ${model.fields.get(empty)?.name ?? 'a value'}, which is empty.`);
    const amounts = amountsOf(step.values, step.table, s);
    const sign = step.how === 'lower' ? -1 : 1;
    const by = Object.fromEntries(amounts.map(({ field, amount }) => [field.id, sign * amount]));
    const record = (rowWith(store, keys) ?? { id: keyedId(step.table, keys) }).id;
    const draft = { do: 'raise' as const, table: step.table, record, by, makes: keys };
    const after = cellsAfter(s.records, draft);
    s.allow(step.table, record, after);
    const whose = ofWhat.map(([, v]) => v).join(', ');
    const said = amounts.map(({ field, amount }) => `${field.name} by ${display(amount, field)}`).join(', ');
    return {
      ask: { ask: 'write', drafts: [draft], together: false },
      did: {
        said: `${step.how === 'lower' ? 'Lowered' : 'Raised'} ${whose} › ${said}`,
        gave: amounts.map(({ field }) => display(after[field.id] ?? null, field)).join(', '),
      },
    };
  },
});

/** The record with these values; of several the one that was made first. */
function rowWith(store: TableStore, keys: Record<string, Cell>): Row | undefined {
  const fields = Object.keys(keys);
  const found = fields.map((f) => store.having(f, linkKey(keys[f])!));
  const fewest = found.reduce((a, b) => (b.length < a.length ? b : a));
  return fewest.find((row) => fields.every((f) => linkKey(row.cells[f]) === linkKey(keys[f])));
}
