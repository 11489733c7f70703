import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, formula, table } from '../../../core/document/meaning.ts';
import { beginningValues, formValues } from '../../../core/records/form-values.ts';
import { Row } from '../../../core/records/row.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const form = defineElement({
  kind: 'form',
  said: { name: 'Form', hint: 'to fill in' },
  needs: 'table',
  properties: {
    table: table('its table', { unfilled: { severity: 'stops', said: 'its table is not chosen.' } }),
    /** The record that is edited; empty for a new one. */
    record: formula('the record', 'record'),
    children: elements('its inputs', MOST_CHILDREN, { brings: (e) => ({ form: String(e['table']) }) }),
  },
}).does({
  begin: (at) => ({
    table: at.table?.id ?? '',
    record: '',
    children: [
      ...(at.table?.fields ?? [])
        .filter((f) => f.type !== 'formula')
        .slice(0, 6)
        .map((f) => at.fresh('input', { field: f.id })),
      at.fresh('button', { words: 'Save', tap: { do: 'save' } }),
    ],
  }),
  name: (e, naming) => `Form for ${naming.table(e.table)?.one ?? 'nothing yet'}`,
  draw(e, d) {
    const record = d.formula(e.record);
    d.reads(e.table);
    const { records } = d;
    return (p) => {
      const r = record.at(p);
      const row = r instanceof Row ? r : null;
      return {
        table: e.table,
        record: row?.id ?? null,
        // A new record begins once: what it begins with does not move while people type.
        values: row ? formValues(row) : p.keep(BEGINNING, () => beginningValues(records, e.table)),
      };
    };
  },
});

const BEGINNING = {};
