import { asWords } from '../../records/words.ts';
import { freeName } from '../../document/names.ts';
import { nameOfPlace } from '../picks.ts';
import { HeaderName, type Paging, type RequestBody, type RequestPart, type ServiceRequest } from '../schema.ts';
import { isObject, listIn, textOf, type Json, type JsonObject, type OpenApiDocument } from './document.ts';
import { operationAt, type Operation } from './operations.ts';
import { fieldTypeOf, typeNamed, wholeSchema } from './types.ts';

type Input = ServiceRequest['inputs'][number];

/** A request made of an operation, and what of it was left out. */
export interface DescribedRequest {
  request: Omit<ServiceRequest, 'id'>;
  leftOut: string[];
}

const MOST_INPUTS = 50;
const DEEPEST = 3;
/** Headers that the host sets, or that say how one signs. */
const OWN_HEADERS = /^(accept|content-type|authorization|user-agent|host|content-length)$/i;

/** Makes a request of an operation: what it is given becomes inputs, each in its place. */
export function describedRequest(
  doc: OpenApiDocument,
  operation: Operation,
  id: (letter: string) => string,
): DescribedRequest {
  const given = operationAt(doc, operation) ?? {};
  const builder = new Builder(doc, id);
  const query: ServiceRequest['query'] = [];
  const headers: ServiceRequest['headers'] = [];
  let path = operation.path;
  const inPath = new Set([...operation.path.matchAll(/\{([^{}]+)\}/g)].map((m) => m[1]!));
  const seen = new Set<string>();
  const placed = new Map<string, string>();
  for (const p of listIn(given['parameters']).map((x) => doc.object(x))) {
    const name = textOf(p?.['name']);
    const where = textOf(p?.['in']);
    if (!p || !name) {
      builder.leftOut.push('a parameter without a name, or whose description is elsewhere');
      continue;
    }
    if (seen.has(`${where} ${name}`)) continue;
    seen.add(`${where} ${name}`);
    if (where === 'cookie') builder.leftOut.push(`the cookie ${name}`);
    else if (where === 'header' && (OWN_HEADERS.test(name) || !HeaderName.safeParse(name).success)) continue;
    else {
      const schema = wholeSchema(doc, p['schema'] ?? contentSchema(doc, p['content'])) ?? {};
      const input = builder.input(name, schema, p['required'] === true || where === 'path', p);
      if (!input) continue;
      if (where === 'path') placed.set(name, input);
      else if (where === 'header') headers.push({ name, value: `{${input}}` });
      else query.push({ name, value: `{${input}}` });
    }
  }
  for (const name of inPath) if (!placed.has(name)) placed.set(name, builder.input(name, {}, true, {})!);
  path = operation.path
    .split(/(\{[^{}]+\})/)
    .map((part) => (placed.has(part.slice(1, -1)) ? `{${placed.get(part.slice(1, -1))!}}` : asWords(part)))
    .join('');
  const body = bodyOf(doc, given['requestBody'], builder);
  const paging = pagingOf(query, builder.inputs);
  return {
    request: {
      name: operation.name,
      method: operation.method,
      path,
      query,
      headers,
      inputs: builder.inputs,
      picks: [],
      ...(body && { body }),
      ...(paging && { paging }),
      ...(operation.about && { about: operation.about }),
    },
    leftOut: builder.leftOut,
  };
}

/** Collects what a request is given. */
class Builder {
  readonly inputs: Input[] = [];
  readonly leftOut: string[] = [];

  constructor(
    readonly doc: OpenApiDocument,
    private readonly id: (letter: string) => string,
  ) {}

  /** The id of a new input; null where it can be none. */
  input(name: string, schema: JsonObject, required: boolean, about: JsonObject): string | null {
    const type = isFile(schema) ? { type: fileTypeFor(name) } : fieldTypeOf(this.doc, schema, name);
    if (!type) {
      this.leftOut.push(`${name}: a list or object as a value`);
      return null;
    }
    if (this.inputs.length >= MOST_INPUTS) {
      this.leftOut.push(`${name}: a request has up to ${MOST_INPUTS} inputs`);
      return null;
    }
    const test = cellOf(about['example'] ?? schema['example'] ?? schema['default'], type.type);
    const input: Input = {
      id: this.id('v'),
      name: freeName(
        nameOfPlace([name]).slice(0, 80),
        this.inputs.map((i) => i.name),
      ),
      // A choice is given as its text.
      type: !isFile(schema) && ['choice', 'mail', 'web', 'picture'].includes(type.type) ? 'text' : type.type,
      ...(!required && { optional: true }),
      ...(test !== undefined && { test }),
    };
    this.inputs.push(input);
    return input.id;
  }
}

/** Is a value a whole file (OpenAPI 3.0: `format: binary`; 3.1: a media type without an encoding; Swagger 2: `file`)? */
const isFile = (schema: JsonObject): boolean =>
  schema['format'] === 'binary' ||
  schema['type'] === 'file' ||
  (schema['contentMediaType'] !== undefined && schema['contentEncoding'] === undefined);
const fileTypeFor = (name: string): 'picture' | 'file' =>
  /(image|picture|photo|avatar|logo|thumb)/i.test(name) ? 'picture' : 'file';

function cellOf(v: Json, type: string): Input['test'] | undefined {
  if (type === 'number') return typeof v === 'number' ? v : undefined;
  if (type === 'yesno') return typeof v === 'boolean' ? v : undefined;
  return typeof v === 'string' && v !== '' && v.length < 1000 ? v : undefined;
}

function contentSchema(doc: OpenApiDocument, content: Json): Json {
  const types = doc.object(content);
  return types ? doc.object(Object.values(types)[0])?.['schema'] : undefined;
}

/** The body of an operation: JSON or a form whose values are inputs. */
function bodyOf(doc: OpenApiDocument, value: Json, builder: Builder): RequestBody | undefined {
  const body = doc.object(value);
  const content = doc.object(body?.['content']) ?? {};
  const types = Object.keys(content);
  const json = types.find((t) => /[/+]json\b|^\*\/\*$/.test(t));
  if (json) {
    const schema = wholeSchema(doc, doc.object(content[json])?.['schema']);
    const made = schema ? jsonOf(doc, schema, '', true, builder, 0) : undefined;
    return { is: 'json', json: JSON.stringify(made ?? {}) };
  }
  const form = types.find((t) => t.startsWith('application/x-www-form-urlencoded'));
  if (form) return { is: 'form', parts: partsOf(doc, content[form], builder) };
  const parts = types.find((t) => t.startsWith('multipart/form-data'));
  if (parts) return { is: 'parts', parts: partsOf(doc, content[parts], builder) };
  if (types.length) builder.leftOut.push(`its body: ${types.slice(0, 2).join(', ')} cannot be sent yet`);
  return undefined;
}

/** The parts of a form, each an input; files among them. */
function partsOf(doc: OpenApiDocument, content: Json, builder: Builder): RequestPart[] {
  const schema = wholeSchema(doc, doc.object(content)?.['schema']) ?? {};
  const required = listIn(schema['required']);
  return Object.entries(isObject(schema['properties']) ? schema['properties'] : {}).flatMap(([name, v]) => {
    const input = builder.input(name, wholeSchema(doc, v) ?? {}, required.includes(name), {});
    return input ? [{ name, value: `{${input}}` }] : [];
  });
}

/** JSON whose plain values are inputs; undefined for what cannot be given. */
function jsonOf(
  doc: OpenApiDocument,
  schema: JsonObject,
  name: string,
  required: boolean,
  builder: Builder,
  deep: number,
): Json | undefined {
  if (schema['readOnly'] === true) return undefined;
  if (isObject(schema['properties']) && typeNamed(schema) === 'object') {
    if (deep > DEEPEST) {
      builder.leftOut.push(`${name}: objects in objects so deep`);
      return undefined;
    }
    const needed = listIn(schema['required']);
    const made = Object.entries(schema['properties']).flatMap(([key, v]) => {
      const inner = wholeSchema(doc, v);
      const value = inner && jsonOf(doc, inner, key, required && needed.includes(key), builder, deep + 1);
      return value === undefined || value === null ? [] : [[key, value] as const];
    });
    return made.length || deep === 0 ? Object.fromEntries(made) : undefined;
  }
  const type = typeNamed(schema);
  if (type === 'array' || type === 'object') {
    builder.leftOut.push(`${name || 'the body'}: a list or an object of any members`);
    return undefined;
  }
  const input = builder.input(name || 'body', schema, required, {});
  return input ? `{${input}}` : undefined;
}

/** How its pages are asked for, by what its inputs are called. */
function pagingOf(query: ServiceRequest['query'], inputs: readonly Input[]): Paging | undefined {
  const by = (names: RegExp): Input | undefined => {
    const part = query.find((q) => names.test(q.name));
    return part && inputs.find((i) => part.value === `{${i.id}}`);
  };
  const page = by(/^(page|page[-_]?(number|no|num|index)?|p)$/i);
  if (page?.type === 'number') return { by: 'page', input: page.id, first: page.test === 0 ? 0 : 1 };
  const offset = by(/^(offset|skip|\$skip|start|from|startindex)$/i);
  return offset?.type === 'number' ? { by: 'offset', input: offset.id } : undefined;
}
