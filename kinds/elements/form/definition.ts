import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, formula, table } from '../../../core/document/meaning.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { beginningValues, formValues } from '../../../core/records/form-values.ts';
import type { MayHere } from '../../../core/records/may-here.ts';
import { Row } from '../../../core/records/row.ts';
import { defineElement } from '../../../core/screens/element.ts';
import type { Table } from '../../../core/tables/schema.ts';

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
    return (p): FormData => {
      const r = record.at(p);
      const row = r instanceof Row ? r : null;
      return {
        table: e.table,
        record: row?.id ?? null,
        // A new record begins once: what it begins with does not move while people type.
        values: row ? formValues(row) : p.keep(BEGINNING, () => beginningValues(records, e.table)),
        ...(records.may && mayFill(records.may, records.model.tables.get(e.table)?.table, row)),
      };
    };
  },
});

const BEGINNING = {};

interface FormData extends MayFill {
  table: string;
  record: string | null;
  values: Record<string, Cell>;
}

/** What of a form the rules leave to be filled in. */
interface MayFill {
  /** Why it cannot be saved at all. */
  refused?: string;
  /** Fields that stay as they are. */
  closed?: string[];
}

function mayFill(may: MayHere, table: Table | undefined, row: Row | null): MayFill {
  if (!table || table.fetched) return {};
  const fields = row ? may.changes(row) : may.adds(table.id);
  if (!fields?.size)
    return { refused: row ? `You may not change this ${table.one}.` : `You may not add ${table.name}.` };
  const closed = table.fields.filter((f) => !fields.has(f.id)).map((f) => f.id);
  return closed.length ? { closed } : {};
}
