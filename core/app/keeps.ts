import { allId } from '../document/ids.ts';
import type { FieldValue } from '../document/pieces.ts';
import type { Field, Table } from '../tables/schema.ts';
import { ownerField, ownRecord, peopleTable, valueForLink } from './people.ts';
import type { ElementMaker } from './make.ts';
import type { App, Step } from './schema.ts';

/**
 * Where the person using the app keeps records of a table: in a field of theirs that holds several, or as records of a
 * table between, each with what is kept and whose it is.
 */
export type Keeping = { name: string; person: string } & (
  { field: Field } | { between: Table; link: Field; owner: Field }
);

/** Every place where the person using the app can keep records of a table. */
export function keepings(app: App, table: Table): Keeping[] {
  const people = peopleTable(app);
  const person = ownRecord(app);
  if (!people || !person || people.id === table.id) return [];
  const fields = people.fields
    .filter((f) => f.several && f.link?.kind === 'picked' && f.link.table === table.id)
    .map((field): Keeping => ({ name: field.name, person, field }));
  const tables = app.tables.flatMap((between): Keeping[] => {
    const link = between.fields.find((f) => !f.several && f.link?.table === table.id);
    const owner = ownerField(app, between);
    return link && owner && between.id !== table.id ? [{ name: between.name, person, between, link, owner }] : [];
  });
  return [...fields, ...tables];
}

/** The formula that says whether a record is kept. */
export const isKept = (k: Keeping, record: string): string =>
  'field' in k ? `list contains(${k.person}.${k.field.id}, ${record})` : `count(${recordsOf(k, record)}) > 0`;

/** What is set to keep one record more, or one less, where a field holds them. */
export const withRecord = (k: Keeping & { field: Field }, record: string, add: boolean): FieldValue => {
  const held = `${k.person}.${k.field.id}`;
  return { field: k.field.id, value: add ? `union(${held}, [${record}])` : `${held}[item != ${record}]` };
};

/** What a new record of the table between begins with. */
export const keptValues = (k: Keeping & { link: Field; owner: Field }, record: string): [FieldValue, FieldValue] => [
  valueForLink(k.link, record),
  k.owner.link ? valueForLink(k.owner, k.person) : { field: k.owner.id, value: 'person()' },
];

/** The records of the table between that keep a record for the person. */
export const recordsOf = (k: Keeping & { between: Table; link: Field; owner: Field }, record: string): string =>
  `${allId(k.between.id)}[${k.link.id} = ${record} and ${k.owner.id} = person()]`;

/** The step that keeps a record for the person, or keeps it no longer. */
export function keepingStep(make: ElementMaker, k: Keeping, record: string, add: boolean): Step {
  if ('field' in k) return make.step('set', { record: k.person, values: [withRecord(k, record, add)] });
  if (!add) return make.step('remove', { record: recordsOf(k, record) });
  return make.step('add', {
    table: k.between.id,
    resultName: `new ${k.between.one}`,
    values: keptValues(k, record),
  });
}
