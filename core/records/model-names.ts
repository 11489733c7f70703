import type { WorkCalendar } from '../formula/work-time.ts';
import type { MayHere } from './may-here.ts';
import { ANSWERS, ANSWERS_CAME, VARIABLES } from '../document/ids.ts';
import { linkInput, slotInput } from '../formula/reads.ts';
import type { Frame, Member, Name } from '../formula/scope.ts';
import type { Type } from '../formula/types.ts';
import type { RecordValue, Value } from '../formula/values.ts';
import type { Table, Variable } from '../tables/schema.ts';
import type { Row } from './row.ts';
import type { TableModel } from './shape.ts';

/** What a formula may name beside the fields of its record: the record given to a screen, a result, a row. */
export interface Thing {
  id: string;
  name: string;
  type: Type;
  /** It is a variable: its value is kept beside the records, not in the frame. */
  variable?: true;
}

/** The first slots of every frame: the runtime, then the record whose fields need no prefix. */
export const SELF_SLOT = 1;
export const THINGS_FROM = 2;

/** The runtime that formulas over records get in slot 0. */
export interface RecordsRuntime {
  now(): number;
  /** Who uses the app here, by name; null when nobody has said so. */
  person(): string | null;
  /** When work is done, as the app says; null where it does not. */
  work?(): WorkCalendar | null;
  readonly stamp: object;
  all(table: string): RecordValue[];
  /** What whoever uses the app here may do, where that is known. */
  readonly may?: MayHere | null;
}

export const SELF = [slotInput(SELF_SLOT)];

/** The things at hand, each in its place of the frame; that of a variable stays empty. */
export const thingNames = (things: readonly Thing[]): Name[] =>
  things.map((t, i) =>
    t.variable
      ? variableName(t)
      : {
          id: t.id,
          name: t.name,
          type: t.type,
          origin: { from: 'thing', thing: t.id, hops: [] },
          read: (f) => f[THINGS_FROM + i] ?? null,
          inputs: [slotInput(THINGS_FROM + i)],
        },
  );

/** A variable is a field of the one record that all of them are kept in. */
const variableName = ({ id, name, type }: Thing): Name => ({
  id,
  name,
  type,
  origin: { from: 'table', table: VARIABLES },
  field: { table: VARIABLES, id },
  read: (f) => (f[0] as unknown as RecordsRuntime).all(VARIABLES)[0]?.get(id) ?? null,
  inputs: [],
});

/** The table of one record that variables are kept in. */
export const variablesTable = (variables: readonly Variable[]): Table => ({
  id: VARIABLES,
  name: 'Variables',
  one: 'variables',
  fields: [...variables],
  titleField: null,
  pictureField: null,
});

/** The table of one record that changes with every answer. It is neither shown nor sent anywhere. */
export const answersTable: Table = {
  id: ANSWERS,
  name: 'Answers',
  one: 'answer',
  fields: [{ id: ANSWERS_CAME, name: 'Came', type: 'number' }],
  titleField: null,
  pictureField: null,
};

/** How a field of the record a formula belongs to is read, and what that hangs on: a link to one leads many to the same. */
export function readerOf(m: Member, t: TableModel): Pick<Name, 'read' | 'inputs'> {
  const read = reader(m, t);
  return { read, inputs: m.leadsToOne ? [linkInput(SELF_SLOT, m.id, read)] : SELF };
}

/** Reads a field of the record a formula belongs to. Stored fields are read without a detour: this is where time goes. */
function reader(m: Member, t: TableModel): (f: Frame) => Value {
  const slot = t.slots.get(m.id);
  const field = t.fields.get(m.id);
  if (slot !== undefined && field && !field.link) {
    if (field.type === 'formula')
      return (f) => {
        const r = f[SELF_SLOT] as Row | null | undefined;
        return r ? r.read(slot) : null;
      };
    return (f) => {
      const r = f[SELF_SLOT] as Row | null | undefined;
      return r ? r.v[slot]! : null;
    };
  }
  const { get } = m;
  return (f) => {
    const r = f[SELF_SLOT]!;
    return r ? get(r as Row) : null;
  };
}
