import type { Member } from '../formula/scope.ts';
import type { Field, Table } from '../tables/schema.ts';

/** A link seen from either end. */
export interface LinkEnd {
  id: string;
  name: string;
  /** The table whose records have it. */
  table: string;
  target: string;
  field: Field;
  back: boolean;
  /** Nobody can name it: it leads back to a variable. */
  unnamed?: true;
  /** Its place among the links of its table. */
  place: number;
}

export interface TableModel {
  table: Table;
  /** Place of each field in a row. */
  slots: Map<string, number>;
  /** Places of the formula fields. */
  formulaSlots: number[];
  fields: Map<string, Field>;
  links: LinkEnd[];
  members: Member[];
}
