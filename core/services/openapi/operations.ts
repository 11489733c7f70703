import type { Sign } from '../schema.ts';
import { METHODS, type Method } from '../schema.ts';
import { answerSchema } from './answer.ts';
import { isObject, listIn, textOf, type Json, type JsonObject, type OpenApiDocument } from './document.ts';
import { typeNamed, wholeSchema } from './types.ts';

/** What an operation is good for. */
export type Need = 'list' | 'one' | 'add' | 'change' | 'remove' | 'other';

/** Something that a description says can be asked. */
export interface Operation {
  /** Names it: its method and path. */
  key: string;
  method: Method;
  path: string;
  name: string;
  about: string;
  need: Need;
  /** The group that its description puts it in. */
  group: string;
  /** How it knows who asks; null where it need not. */
  sign: Sign | null;
  /** Said of a way to sign that an app has not. */
  unsigned: string | null;
}

/** Every operation of a description, in its order; what cannot be one is told in `leftOut`. */
export function operationsOf(doc: OpenApiDocument): { operations: Operation[]; leftOut: string[] } {
  const operations: Operation[] = [];
  const leftOut: string[] = [];
  const paths = isObject(doc.root['paths']) ? doc.root['paths'] : {};
  for (const [path, value] of Object.entries(paths)) {
    const item = doc.object(value);
    if (!item || !path.startsWith('/')) {
      leftOut.push(`${path}: its description is not here`);
      continue;
    }
    for (const [name, given] of Object.entries(item)) {
      const method = name.toUpperCase() as Method;
      if (!METHODS.includes(method)) {
        if (/^(head|options|trace)$/.test(name))
          leftOut.push(`${name.toUpperCase()} ${path}: an app does not ask by this method`);
        continue;
      }
      const operation = doc.object(given);
      if (operation) operations.push(described(doc, path, method, operation));
    }
  }
  const hooks = isObject(doc.root['webhooks']) ? Object.keys(doc.root['webhooks']).length : 0;
  if (hooks) leftOut.push(`${hooks} webhook${hooks === 1 ? '' : 's'}: what a service sends by itself`);
  return { operations, leftOut };
}

/** The part of a description that is one operation, with what its path says of all of its operations. */
export function operationAt(
  doc: OpenApiDocument,
  { path, method }: Pick<Operation, 'path' | 'method'>,
): JsonObject | null {
  const paths = isObject(doc.root['paths']) ? doc.root['paths'] : {};
  const item = doc.object(paths[path]);
  const operation = item && doc.object(item[method.toLowerCase()]);
  return operation
    ? { ...operation, parameters: [...listIn(item['parameters']), ...listIn(operation['parameters'])] }
    : null;
}

function described(doc: OpenApiDocument, path: string, method: Method, operation: JsonObject): Operation {
  const summary = tidy(textOf(operation['summary']));
  const about = textOf(operation['description']);
  const named = summary || tidy(spoken(textOf(operation['operationId']))) || `${VERBS[method]} ${lastOf(path)}`;
  return {
    key: `${method} ${path}`,
    method,
    path,
    name: named.slice(0, 100),
    about: about.slice(0, 2000),
    need: needOf(doc, path, method, operation),
    group: textOf(listIn(operation['tags'])[0]).slice(0, 60),
    ...signOf(doc, operation),
  };
}

const tidy = (text: string): string => text.replace(/\s+/g, ' ').replace(/\.$/, '').trim();

const VERBS: Record<Method, string> = { GET: 'Get', POST: 'Add', PUT: 'Put', PATCH: 'Change', DELETE: 'Remove' };
const lastOf = (path: string): string =>
  path
    .split('/')
    .findLast((p) => p && !p.startsWith('{'))
    ?.replace(/[-_]+/g, ' ') ?? 'it';

/** `listGoods` and `list_goods` are List goods. */
const spoken = (id: string): string => {
  const words = id
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .replace(/[_\-./]+/g, ' ')
    .trim()
    .toLowerCase();
  return words && words.charAt(0).toUpperCase() + words.slice(1);
};

function needOf(doc: OpenApiDocument, path: string, method: Method, operation: JsonObject): Need {
  const endsInPlace = /\}[^/{}]*\/?$/.test(path);
  if (method === 'DELETE') return endsInPlace ? 'remove' : 'other';
  if (method === 'PUT' || method === 'PATCH') return endsInPlace ? 'change' : 'other';
  if (method === 'POST') return endsInPlace || isDoing(path) ? 'other' : 'add';
  const schema = answerSchema(doc, operation);
  if (!schema) return 'other';
  if (endsInPlace) return 'one';
  return typeNamed(schema) === 'array' || holdsList(doc, schema) ? 'list' : 'other';
}

/** Paths that do something rather than add to a collection. */
const isDoing = (path: string): boolean =>
  /\/(login|logout|sign-?in|sign-?out|sign-?up|tokens?|auth\w*|oauth\w*|search|query|verify|reset|refresh|renewed?|upload)\b/i.test(
    path,
  );

const holdsList = (doc: OpenApiDocument, schema: JsonObject): boolean =>
  isObject(schema['properties']) &&
  Object.values(schema['properties']).some((v) => {
    const inner = wholeSchema(doc, v);
    return inner && typeNamed(inner) === 'array' && isObject(wholeSchema(doc, inner['items'])?.['properties']);
  });

/** How an operation is signed: the first way of its own, or of the whole description, that an app has. */
function signOf(doc: OpenApiDocument, operation: JsonObject): Pick<Operation, 'sign' | 'unsigned'> {
  const wanted: Json = operation['security'] ?? doc.root['security'];
  const ways = listIn(wanted).filter(isObject);
  if (ways.length === 0 || ways.some((w) => Object.keys(w).length === 0)) return { sign: null, unsigned: null };
  const schemes = doc.object(doc.object(doc.root['components'])?.['securitySchemes']) ?? {};
  const odd: string[] = [];
  for (const way of ways)
    for (const name of Object.keys(way)) {
      const sign = signBy(doc.object(schemes[name]));
      if (sign) return { sign, unsigned: null };
      odd.push(name);
    }
  return { sign: null, unsigned: `It is signed by ${odd.slice(0, 3).join(', ')}, which an app cannot do yet.` };
}

function signBy(scheme: JsonObject | null): Sign | null {
  if (!scheme) return null;
  const name = textOf(scheme['name']);
  if (scheme['type'] === 'apiKey' && name) {
    if (scheme['in'] === 'query') return { how: 'query', name };
    return scheme['in'] === 'header' && /^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,100}$/.test(name)
      ? { how: 'header', name }
      : null;
  }
  if (scheme['type'] === 'http')
    return /^basic$/i.test(textOf(scheme['scheme'])) ? { how: 'basic' } : { how: 'bearer' };
  // Where the app itself can get a token, no person need sign in.
  const flows = scheme['flows'];
  const client = isObject(flows) ? flows['clientCredentials'] : undefined;
  const tokens = isObject(client) ? textOf(client['tokenUrl']) : '';
  if (/^https?:/.test(tokens) && Object.keys(flows as object).length === 1) return { how: 'client', tokens };
  return scheme['type'] === 'oauth2' || scheme['type'] === 'openIdConnect' ? { how: 'bearer' } : null;
}
