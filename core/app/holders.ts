import { thisId } from '../document/ids.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { ElementMaker } from './make.ts';
import { ownerField, peopleTable, valueForLink } from './people.ts';
import type { App, Step } from './schema.ts';

/** Records that hold others, such as lists: in a field of several, or by records of a table between. */
export type Holder = { lists: Table; owner: Field | undefined } & (
  { field: Field } | { between: Table; to: Field; item: Field }
);

/** Every table whose records can hold those of a table, and that a name alone makes a new one of. People hold none. */
export function holdersOf(app: App, table: Table): Holder[] {
  const people = peopleTable(app)?.id;
  const isList = (t: Table | undefined): t is Table =>
    t !== undefined &&
    t.id !== table.id &&
    t.id !== people &&
    !t.facts &&
    t.fields.find((f) => f.id === t.titleField)?.type === 'text';
  const whose = (t: Table): { lists: Table; owner: Field | undefined } => ({ lists: t, owner: ownerField(app, t) });
  const fields = app.tables.filter(isList).flatMap((t): Holder[] => {
    const field = t.fields.find((f) => f.several && f.link?.kind === 'picked' && f.link.table === table.id);
    return field ? [{ ...whose(t), field }] : [];
  });
  const tables = app.tables.flatMap((between): Holder[] => {
    const item = between.fields.find((f) => !f.several && f.link?.table === table.id);
    if (!item || between.id === table.id) return [];
    return between.fields.flatMap((to): Holder[] => {
      const lists = to.several ? undefined : app.tables.find((t) => t.id === to.link?.table);
      return isList(lists) && lists.id !== between.id ? [{ ...whose(lists), between, to, item }] : [];
    });
  });
  // What belongs to whoever uses the app comes first.
  return [...fields, ...tables].sort((a, b) => Number(Boolean(b.owner)) - Number(Boolean(a.owner)));
}

/** The step that puts the record at hand into a list, given as a formula. */
export const putStep = (make: ElementMaker, h: Holder, table: Table, list: string): Step =>
  'field' in h
    ? make.step('set', {
        record: list,
        values: [{ field: h.field.id, value: `union(${list}.${h.field.id}, [${thisId(table.id)}])` }],
      })
    : make.step('add', {
        table: h.between.id,
        resultName: `new ${h.between.one}`,
        values: [valueForLink(h.item, thisId(table.id)), valueForLink(h.to, list)],
      });
