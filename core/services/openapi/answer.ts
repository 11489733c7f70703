import { freeName } from '../../document/names.ts';
import { bestFor } from '../../tables/serves.ts';
import type { Field } from '../../tables/schema.ts';
import { nameOfPlace, pathOf, type Location } from '../picks.ts';
import { isObject, type Json, type JsonObject, type OpenApiDocument } from './document.ts';
import { fieldTypeOf, typeNamed, wholeSchema } from './types.ts';

/** What the answer of an operation holds, as its description says. */
export interface DescribedAnswer {
  /** A list of records, one record, or neither. */
  holds: 'list' | 'one' | 'nothing';
  /** Where they are. */
  at: string;
  fields: Field[];
  /** The field that tells records apart; empty where none does. */
  key: string;
  titleField: string | null;
  pictureField: string | null;
  /** What of a record becomes no field. */
  leftOut: string[];
  /** The answer is a file, of this type. */
  file?: 'picture' | 'sound' | 'file';
}

/** An answer of these fields, with its key and its title as far as they are known. */
export const described = (
  answer: Pick<DescribedAnswer, 'holds' | 'at' | 'fields' | 'leftOut'>,
  key: Field | undefined,
  title: Field | undefined,
): DescribedAnswer => ({
  ...answer,
  holds: answer.fields.length ? answer.holds : 'nothing',
  key: key?.id ?? '',
  titleField:
    title?.id ?? answer.fields.find((f) => f.type === 'text' && f !== key)?.id ?? answer.fields[0]?.id ?? null,
  pictureField: bestFor(answer.fields, 'picture'),
});

const NOTHING: DescribedAnswer = {
  holds: 'nothing',
  at: '$',
  fields: [],
  key: '',
  titleField: null,
  pictureField: null,
  leftOut: [],
};
/** So many fields are taken, and objects in objects followed so deep. */
const MOST_FIELDS = 60;
const DEEPEST = 3;
/** Under these names services wrap what they list. */
const LISTS = /^(items|data|results?|records|rows|entries|values?|list|elements|hits|content|docs|objects)$/i;

/** The schema of the answer to a request that went well; null where none is described. */
export function answerSchema(doc: OpenApiDocument, operation: JsonObject): JsonObject | null {
  const responses = doc.object(operation['responses']) ?? {};
  const good = Object.keys(responses)
    .filter((status) => status.startsWith('2'))
    .sort();
  for (const status of [...good, 'default']) {
    const content = doc.object(doc.object(responses[status])?.['content']);
    const type = Object.keys(content ?? {}).find((t) => /[/+]json\b|^\*\/\*$/.test(t));
    const schema = type && wholeSchema(doc, doc.object(content![type])?.['schema']);
    if (schema) return schema;
  }
  return null;
}

/** The file that a request is answered with, where it is described to be one. */
function fileOf(doc: OpenApiDocument, operation: JsonObject): Pick<DescribedAnswer, 'file'> {
  const responses = doc.object(operation['responses']) ?? {};
  for (const status of Object.keys(responses).filter((s) => s.startsWith('2'))) {
    const types = Object.keys(doc.object(doc.object(responses[status])?.['content']) ?? {});
    const type = types.find((t) => /^(image|audio|video)\//.test(t) || /^application\/(pdf|zip|octet-stream)/.test(t));
    if (type) return { file: type.startsWith('image/') ? 'picture' : type.startsWith('audio/') ? 'sound' : 'file' };
  }
  return {};
}

/** What records an answer holds, and which fields they have. */
export function describedAnswer(
  doc: OpenApiDocument,
  operation: JsonObject,
  id: (letter: string) => string,
): DescribedAnswer {
  const schema = answerSchema(doc, operation);
  if (!schema) return { ...NOTHING, ...fileOf(doc, operation) };
  const list = listAt(doc, schema, [], 0);
  if (list) return shape(doc, list.items, 'list', `${pathOf(list.at)}[*]`, id);
  return typeNamed(schema) === 'object' ? shape(doc, schema, 'one', '$', id) : NOTHING;
}

/** The list of records that an answer is, or holds: in one of the usual places, or the only one. */
function listAt(
  doc: OpenApiDocument,
  schema: JsonObject,
  at: Location,
  deep: number,
): { at: Location; items: JsonObject } | null {
  if (typeNamed(schema) === 'array') {
    const items = wholeSchema(doc, schema['items']);
    return items && typeNamed(items) === 'object' ? { at, items } : null;
  }
  if (!isObject(schema['properties']) || deep > 2) return null;
  const lists: { name: string; at: Location; items: JsonObject }[] = [];
  for (const [name, value] of Object.entries(schema['properties'])) {
    const inner = wholeSchema(doc, value);
    const found =
      inner && (typeNamed(inner) === 'array' || LISTS.test(name)) ? listAt(doc, inner, [...at, name], deep + 1) : null;
    if (found) lists.push({ name, ...found });
  }
  // A record may hold a list of its own; only what wraps little else is a list of records.
  const usual = lists.find((l) => LISTS.test(l.name));
  if (usual) return usual;
  const plain = Object.values(schema['properties']).filter((v) => {
    const inner = wholeSchema(doc, v);
    return inner && typeNamed(inner) !== 'array';
  }).length;
  return lists.length === 1 && plain <= 4 && !('id' in schema['properties']) ? lists[0]! : null;
}

function shape(
  doc: OpenApiDocument,
  schema: JsonObject,
  holds: 'list' | 'one',
  at: string,
  id: (letter: string) => string,
): DescribedAnswer {
  const fields: Field[] = [];
  const leftOut: string[] = [];
  const names: string[] = [];
  const take = (value: Json, place: Location, deep: number): void => {
    const inner = wholeSchema(doc, value);
    if (!inner) return;
    const own = nameOfPlace(place);
    const wanted = place.length > 1 ? `${nameOfPlace(place.slice(0, -1))} ${own.toLowerCase()}` : own;
    if (isObject(inner['properties']) && typeNamed(inner) === 'object') {
      if (deep >= DEEPEST) leftOut.push(wanted);
      else for (const [name, v] of Object.entries(inner['properties'])) take(v, [...place, name], deep + 1);
      return;
    }
    const type = fieldTypeOf(doc, inner, String(place.at(-1)));
    if (!type || fields.length >= MOST_FIELDS) {
      leftOut.push(wanted);
      return;
    }
    const name = freeName(wanted.slice(0, 80), names);
    names.push(name);
    fields.push({ id: id('f'), name, ...type, pick: pathOf(place) });
  };
  for (const [name, value] of Object.entries(isObject(schema['properties']) ? schema['properties'] : {}))
    take(value, [name], 0);
  const plain = fields.filter((f) => !f.pick!.includes(']['));
  const key =
    plain.find((f) => /^(id|key|uuid|guid|code|number|sku|slug)$/i.test(f.name)) ??
    plain.find((f) => /\b(id|key|code|number)$/i.test(f.name)) ??
    plain[0];
  const title = fields.find((f) => /^(name|title|label|subject|full name|display name)$/i.test(f.name));
  return described({ holds, at, fields, leftOut }, key, title);
}
