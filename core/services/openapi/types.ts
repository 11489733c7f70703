import type { Field } from '../../tables/schema.ts';
import { isObject, listIn, textOf, type Json, type JsonObject, type OpenApiDocument } from './document.ts';

/** So deep schemas in schemas are followed. */
const DEEPEST = 6;
/** Choices of a text, where there are no more. */
const MOST_CHOICES = 60;

/** A schema with all that it is made of (`allOf`), its own words first; of several it may be (`oneOf`, `anyOf`) all together. */
export function wholeSchema(doc: OpenApiDocument, value: Json, deep = 0): JsonObject | null {
  const schema = doc.object(value);
  if (!schema) return null;
  if (deep > DEEPEST) return schema;
  const parts = [...listIn(schema['allOf']), ...listIn(schema['oneOf']), ...listIn(schema['anyOf'])];
  if (parts.length === 0) return schema;
  const properties: JsonObject = {};
  let required = listIn(schema['required']);
  let made: JsonObject = {};
  for (const part of parts) {
    const whole = wholeSchema(doc, part, deep + 1);
    // “or nothing” adds nothing.
    if (!whole || whole['type'] === 'null') continue;
    if (isObject(whole['properties'])) Object.assign(properties, whole['properties']);
    if (listIn(schema['allOf']).includes(part)) required = [...required, ...listIn(whole['required'])];
    made = { ...whole, ...made };
  }
  if (isObject(schema['properties'])) Object.assign(properties, schema['properties']);
  return {
    ...made,
    ...schema,
    ...(Object.keys(properties).length > 0 && { properties, type: 'object' }),
    required,
  };
}

/** The type that a schema names, without “or nothing”. */
export function typeNamed(schema: JsonObject): string {
  const { type } = schema;
  if (Array.isArray(type)) return textOf(type.find((t) => t !== 'null'));
  if (typeof type === 'string') return type;
  return isObject(schema['properties']) ? 'object' : schema['items'] !== undefined ? 'array' : '';
}

/** The field that keeps values of a schema; null for objects and lists of them. */
export function fieldTypeOf(
  doc: OpenApiDocument,
  schema: JsonObject,
  name: string,
): Pick<Field, 'type' | 'choices'> | null {
  const type = typeNamed(schema);
  const format = textOf(schema['format']);
  if (type === 'object') return null;
  if (type === 'array') {
    const items = wholeSchema(doc, schema['items']);
    const inner = items && typeNamed(items);
    return inner === 'object' || inner === 'array' ? null : { type: 'text' };
  }
  if (type === 'boolean') return { type: 'yesno' };
  if (type === 'integer' || type === 'number') return { type: 'number' };
  const choices = listIn(schema['enum']).filter(
    (v): v is string => typeof v === 'string' && v.length > 0 && v.length < 100,
  );
  if (choices.length > 0 && choices.length <= MOST_CHOICES)
    return { type: 'choice', choices: [...new Set(choices)].map((c, i) => ({ name: c, colour: i % 8 })) };
  if (format === 'date-time') return { type: 'datetime' };
  if (format === 'date') return { type: 'date' };
  if (format === 'time') return { type: 'time' };
  if (format === 'email') return { type: 'mail' };
  if (format === 'uri' || format === 'url')
    return { type: /(image|picture|photo|avatar|icon|thumb|logo)/i.test(name) ? 'picture' : 'web' };
  return { type: 'text' };
}
