import { z } from 'zod';
import { columnTypes, type ColumnType } from './column-types.ts';
import { fieldKind } from '../fields/kinds.ts';
import type { Field } from '../tables/schema.ts';

/**
 * What a file says of its own columns, so that nothing has to be guessed: a Table Schema (Frictionless Data, version 1)
 * with what our types have beyond it under a name of its own.
 */
const Own = z.object({
  type: z.lazy(() => z.enum(columnTypes())).catch('text'),
  unit: z.string().max(20).optional(),
  decimals: z.number().int().min(0).max(10).optional(),
  several: z.boolean().optional(),
  choices: z.array(z.object({ name: z.string().max(200), colour: z.number().int().min(0).max(50) })).optional(),
});
/** A column’s type as the file itself tells it. */
export type Stated = z.infer<typeof Own>;

const SchemaField = z.object({ name: z.string(), mellowKite: Own.optional() });
export const TableSchema = z.object({ fields: z.array(SchemaField) });
export const DataPackage = z.object({
  resources: z.array(
    z.object({ name: z.string(), path: z.string(), title: z.string().optional(), schema: TableSchema }),
  ),
});

/** The types of Table Schema that have the same values. */
const STANDARD: Readonly<Record<string, string>> = {
  number: 'number',
  money: 'number',
  percent: 'number',
  rating: 'integer',
  yesno: 'boolean',
  date: 'date',
  time: 'time',
  datetime: 'datetime',
  duration: 'duration',
  place: 'geopoint',
};

/** What there is to tell of a field; null for one whose values only the app makes. */
export function statedOf(f: Field): Stated | null {
  if (!(columnTypes() as readonly string[]).includes(f.type)) return null;
  const { unit = fieldKind(f.type).usualUnit, decimals, several, choices } = f;
  return {
    type: f.type as ColumnType,
    ...(unit !== undefined && { unit }),
    ...(decimals !== undefined && { decimals }),
    ...(several && { several }),
    ...(choices && { choices }),
  };
}

/** The schema of a table’s file; `headers` are what its columns are called there. */
export function schemaOf(fields: readonly Field[], headers: readonly string[]) {
  return {
    fields: fields.map((f, i) => {
      const own = statedOf(f);
      return { name: headers[i]!, title: f.name, type: STANDARD[f.type] ?? 'string', ...(own && { mellowKite: own }) };
    }),
  };
}

/** What a schema tells of the columns with these headers. */
export function statedBy(schema: z.infer<typeof TableSchema>, headers: readonly string[]): (Stated | null)[] {
  const known = new Map(schema.fields.map((f) => [f.name, f.mellowKite ?? null]));
  return headers.map((h) => known.get(h) ?? null);
}

/** What a text tells of one column; null when it tells nothing of the kind. */
export function readStated(text: string): Stated | null {
  try {
    return Own.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}
