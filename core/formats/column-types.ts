import { fieldTypes } from '../fields/kinds.ts';
import type { FieldType } from '../tables/schema.ts';

/** The types a column of a file can become. */
export type ColumnType = Exclude<FieldType, 'link' | 'formula' | 'id' | 'created' | 'changed'>;

/** All of them, in the order they are offered. */
export const columnTypes = (): ColumnType[] =>
  fieldTypes()
    .filter((d) => d.column)
    .map((d) => d.type as ColumnType);
