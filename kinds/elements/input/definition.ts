import { field, optional, words } from '../../../core/document/meaning.ts';
import { isWritable } from '../../../core/records/cells.ts';
import { fieldKind } from '../../fields/index.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const input = defineElement({
  kind: 'input',
  said: { name: 'Input', hint: 'one field' },
  needs: 'form',
  properties: {
    field: field('its field', 'form'),
    label: optional(words('the label')),
  },
}).does({
  begin: ({ form }) => ({ field: form?.fields[0]?.id ?? '' }),
  name: (e, naming) => naming.field(e.field)?.name ?? '',
  notes(e, { form, tables }) {
    if (form === null) return [{ severity: 'stops', said: 'an input works inside a form.' }];
    const fields = tables.find((t) => t.id === form)?.fields ?? [];
    return fields.some((f) => f.id === e.field) ? [] : [{ severity: 'stops', said: 'its field is not chosen.' }];
  },
  draw(e, d) {
    const tables = [...d.records.model.tables.values()];
    const found = tables.flatMap((t) => t.fields.get(e.field) ?? [])[0];
    const label = e.label === undefined ? null : d.words(e.label);
    return (p) => ({
      field: e.field,
      type: found?.type ?? null,
      label: label?.(p) ?? found?.name ?? '',
      required: found?.required ?? false,
      unit: found?.unit,
      /** A choice of several, or a link to several records: its cell is a list. */
      several: found?.several ?? false,
      /** Address of the picture that a place on a plan is put on. */
      plan: found?.plan ? d.address(found.plan) : null,
      /** False for what the app fills in itself. */
      writable: found ? isWritable(found) || found.link?.kind === 'matched' : false,
      choices: found?.choices?.map((c) => c.name) ?? [],
      link: found?.link?.table ?? null,
      phone: found && fieldKind(found.type).phone,
    });
  },
});
