import { FIELDS } from '../../kinds/fields/index.ts';
import type { FieldDefinition } from '../fields/kind.ts';
import type { FieldType } from '../tables/schema.ts';

/** The types a column of a file can become. */
export type ColumnType = Exclude<FieldType, 'link' | 'formula' | 'id' | 'created' | 'changed'>;

export const COLUMN_TYPES = FIELDS.filter((d: FieldDefinition) => d.column).map((d) => d.type) as ColumnType[];
