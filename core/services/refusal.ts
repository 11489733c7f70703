import { pieces } from '../records/words.ts';
import { picked } from './picks.ts';
import type { Read } from './reply.ts';
import type { ServiceRequest } from './schema.ts';

/** Where services say for people what is wrong; RFC 9457 has `detail` and `title`. */
const WORDS = ['$.detail', '$.error.message', '$.message', '$.error_description', '$.title', '$.error'];
const LONGEST = 300;

/**
 * What a refusal says for people, and of which inputs, where it says so in a usual way: `errors` with pointers (RFC 9457),
 * with names of fields, or by name.
 */
export function fromRefusal(
  read: Read,
  request: Pick<ServiceRequest, 'body' | 'inputs' | 'query'>,
): { notes: string[]; problems?: Record<string, string> } {
  if (read.is !== 'json') return { notes: [] };
  const said = WORDS.map((path) => picked(read.value, path)[0]).find((w) => typeof w === 'string' && w.trim());
  const places = placesOf(request);
  const problems: Record<string, string> = {};
  for (const [name, words] of fieldWords(read.value)) {
    const input = places.get(normal(name));
    if (input) problems[input] ??= words.slice(0, LONGEST);
  }
  return {
    notes: typeof said === 'string' ? [said.trim().slice(0, LONGEST)] : [],
    ...(Object.keys(problems).length > 0 && { problems }),
  };
}

/** “#/items/0/unit_price” and “unitPrice” name the same place. */
const normal = (name: string): string =>
  name
    .split(/[/.]/)
    .findLast((p) => p && !/^\d+$/.test(p))!
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

/** The inputs of a request by the names that their places have at the service. */
function placesOf({ body, inputs, query }: Pick<ServiceRequest, 'body' | 'inputs' | 'query'>): Map<string, string> {
  const places = new Map<string, string>();
  const take = (name: string, template: string): void => {
    for (const p of pieces(template))
      if ('formula' in p && inputs.some((i) => i.id === p.formula) && /[\p{L}\p{N}]/u.test(name))
        places.set(normal(name), p.formula);
  };
  for (const i of inputs) if (/[\p{L}\p{N}]/u.test(i.name)) places.set(normal(i.name.replace(/[/.]/g, ' ')), i.id);
  for (const q of query) take(q.name, q.value);
  if (body?.is === 'form') for (const p of body.parts) take(p.name, p.value);
  if (body?.is === 'json') {
    const walk = (json: unknown, name: string): void => {
      if (typeof json === 'string') take(name, json);
      else if (typeof json === 'object' && json !== null) for (const [k, v] of Object.entries(json)) walk(v, k);
    };
    try {
      walk(JSON.parse(body.json), '');
    } catch {
      // A body that is no JSON has no places.
    }
  }
  return places;
}

/** Fields with what is said of them, in the usual shapes. */
function fieldWords(answer: unknown): [name: string, words: string][] {
  const found: [string, string][] = [];
  const wordsIn = (v: unknown): string | null => {
    if (typeof v === 'string') return v;
    if (Array.isArray(v)) return v.map(wordsIn).find((w) => w !== null) ?? null;
    if (typeof v !== 'object' || v === null) return null;
    const o = v as Record<string, unknown>;
    return wordsIn(o['detail'] ?? o['message'] ?? o['msg'] ?? o['title'] ?? o['description'] ?? null);
  };
  const take = (name: unknown, v: unknown): void => {
    const words = wordsIn(v);
    const named = Array.isArray(name) ? name.filter((x) => typeof x === 'string').at(-1) : name;
    if (typeof named === 'string' && /[\p{L}\p{N}]/u.test(named) && words) found.push([named, words]);
  };
  for (const path of [
    '$.errors',
    '$.error.errors',
    '$.error.details',
    '$.details',
    '$.detail',
    '$.violations',
    '$.fields',
    '$',
  ]) {
    const [value] = picked(answer, path);
    if (Array.isArray(value))
      for (const e of value) {
        if (typeof e !== 'object' || e === null) continue;
        const o = e as Record<string, unknown>;
        const source =
          typeof o['source'] === 'object' && o['source'] !== null ? (o['source'] as Record<string, unknown>) : {};
        take(
          o['pointer'] ??
            source['pointer'] ??
            source['parameter'] ??
            o['field'] ??
            o['loc'] ??
            o['path'] ??
            o['propertyPath'] ??
            o['property'] ??
            o['name'] ??
            o['param'],
          e,
        );
      }
    else if (typeof value === 'object' && value !== null && (path !== '$' || found.length === 0))
      for (const [name, v] of Object.entries(value)) if (path !== '$' || Array.isArray(v)) take(name, v);
  }
  return found;
}
