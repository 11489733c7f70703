import { toJson } from '../formula/json.ts';
import { numberText } from '../formula/number.ts';
import type { Value } from '../formula/values.ts';
import { pieces } from '../records/words.ts';
import { isContent, type FilledPart } from './parts.ts';
import { FILES, type RequestBody, type RequestPart, type Service, type ServiceRequest, type Where } from './schema.ts';

/** A request with all that is asked in its places. Secrets are put in by whoever sends it. */
export interface Filled {
  method: string;
  url: string;
  headers: [name: string, value: string][];
  body?: string;
  /** In place of a body: parts with files among them. */
  parts?: FilledPart[];
}

/** A request cannot be asked with what it is given; in words for whoever gave it. */
export class CannotBeAsked extends Error {
  override name = 'CannotBeAsked';
  constructor(
    message: string,
    /** The input that is missing or does not fit, by its id. */
    readonly input?: string,
  ) {
    super(message);
  }
}

/** Works out the formula of a place; undefined for an input alone that is not given. */
export type ValueOf = (formula: string) => Value | undefined;

/** A value as other systems read it: dates and times by ISO 8601, numbers with a point, true and false. */
export function plainText(v: Value | undefined): string {
  if (v === null || v === undefined) return '';
  if (typeof v === 'number') return numberText(v);
  const json = toJson(v);
  return typeof json === 'string' ? json : JSON.stringify(json);
}

/** Words with the values of their places; null where one place alone is not given anything, `emptied` where that is nothing. */
function filled(template: string, valueOf: ValueOf, emptied: string | null = null): string | null {
  const all = pieces(template);
  const [only] = all;
  if (all.length === 1 && !('words' in only!)) {
    const v = valueOf(only!.formula);
    return v === undefined ? null : v === null ? emptied : plainText(v);
  }
  return all.map((p) => ('words' in p ? p.words : plainText(valueOf(p.formula)))).join('');
}

/** Fills a request in. Throws {@link CannotBeAsked}. */
export function fill(service: Service, request: ServiceRequest, where: Where, valueOf: ValueOf): Filled {
  const headers = [...service.headers, ...request.headers].flatMap((h) => headerOf(h, valueOf));
  const body = request.body && bodyOf(request.body, request, valueOf);
  const isTold = (name: string): boolean => headers.some(([n]) => n.toLowerCase() === name);
  // What ends a part is known when they are put together.
  if (body && 'type' in body && !isTold('content-type')) headers.push(['content-type', body.type]);
  if (!isTold('accept')) headers.push(['accept', 'application/json, */*;q=0.5']);
  return {
    method: request.method,
    url: addressOf((where === 'live' && service.live) || service.test, request, valueOf),
    headers,
    ...(body && ('parts' in body ? { parts: body.parts } : { body: body.text })),
  };
}

/** The address of the service with the path and query of a request behind it. */
function addressOf(base: string, request: ServiceRequest, valueOf: ValueOf): string {
  let url: URL;
  try {
    url = new URL(base);
  } catch {
    throw new CannotBeAsked('The address of the service is missing or no address. It begins with https://.');
  }
  const path = pieces(request.path)
    .map((p) => ('words' in p ? p.words : segment(plainText(valueOf(p.formula)))))
    .join('');
  const [way, asked = ''] = path.split(/\?(.*)/s) as [string, string?];
  url.pathname = url.pathname.replace(/\/+$/, '') + (way && !way.startsWith('/') ? `/${way}` : way);
  for (const [name, value] of new URLSearchParams(asked)) url.searchParams.append(name, value);
  for (const part of request.query) {
    const value = filled(part.value, valueOf);
    // A place without a value leaves the whole part out, as somebody who searches for nothing means it.
    if (value !== null) url.searchParams.append(part.name, value);
  }
  return url.href;
}

/** A value as one segment of a path: it can neither lead up nor begin another segment. */
function segment(text: string): string {
  if (text === '') throw new CannotBeAsked('A value that is part of the address is missing.');
  if (/^\.{1,2}$/.test(text)) throw new CannotBeAsked(`“${text}” cannot be part of an address.`);
  return encodeURIComponent(text);
}

function headerOf({ name, value }: RequestPart, valueOf: ValueOf): [string, string][] {
  const text = filled(value, valueOf);
  if (text === null) return [];
  // Visible ASCII, spaces and tabs (RFC 9110, 5.5): anything else could begin another header.
  if (!/^[\t\x20-\x7e]*$/.test(text))
    throw new CannotBeAsked(`The header ${name} cannot hold line breaks or letters beyond ASCII.`);
  return [[name, text.trim()]];
}

function bodyOf(
  body: RequestBody,
  request: ServiceRequest,
  valueOf: ValueOf,
): { text: string; type: string } | { parts: FilledPart[] } {
  switch (body.is) {
    case 'form': {
      const form = new URLSearchParams();
      for (const { name, value } of body.parts) {
        const text = filled(value, valueOf, '');
        if (text !== null) form.append(name, text);
      }
      return { text: form.toString(), type: 'application/x-www-form-urlencoded' };
    }
    case 'parts':
      return { parts: body.parts.flatMap((p) => partOf(p, request, valueOf)) };
    case 'text':
      return { text: filled(body.text, valueOf) ?? '', type: body.type };
    case 'json': {
      let json: unknown;
      try {
        json = JSON.parse(body.json);
      } catch {
        throw new CannotBeAsked('The body of the request is no JSON.');
      }
      return { text: JSON.stringify(inJson(json, valueOf) ?? null), type: 'application/json' };
    }
  }
}

/** A part of what is sent: the file of an input, or a text; none where its input is not given. */
function partOf({ name, value }: RequestPart, { inputs }: ServiceRequest, valueOf: ValueOf): FilledPart[] {
  const [only, ...others] = pieces(value);
  const input =
    only && 'formula' in only && others.length === 0 ? inputs.find((i) => i.id === only.formula) : undefined;
  if (!input || !FILES.has(input.type)) {
    const text = filled(value, valueOf, '');
    return text === null ? [] : [{ name, text }];
  }
  const file = valueOf(input.id);
  if (file === undefined || file === null || file === '') return [];
  if (typeof file !== 'string' || !isContent(file))
    throw new CannotBeAsked(`The file of ${input.name} is not here.`, input.id);
  return [{ name, file }];
}

/**
 * JSON with the values of its places; a text that is one place alone becomes what that gives, with its type. Undefined where
 * its input is not given: such a member is left out, so that nothing is emptied at a service that nobody has emptied.
 */
function inJson(json: unknown, valueOf: ValueOf): unknown {
  if (typeof json === 'string') {
    const all = pieces(json);
    const [only] = all;
    if (all.length === 1 && !('words' in only!)) {
      const value = valueOf(only!.formula);
      return value === undefined ? undefined : toJson(value);
    }
    return all.map((p) => ('words' in p ? p.words : plainText(valueOf(p.formula)))).join('');
  }
  if (Array.isArray(json)) return json.map((x) => inJson(x, valueOf)).filter((x) => x !== undefined);
  if (typeof json !== 'object' || json === null) return json;
  return Object.fromEntries(Object.entries(json).map(([key, x]) => [key, inJson(x, valueOf)]));
}
