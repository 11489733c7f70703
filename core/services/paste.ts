import { readCurl, type Pasted } from './curl.ts';
import { nameOfPlace } from './picks.ts';
import { USUAL_LIMITS, type RequestBody, type Service, type ServiceRequest, type Sign } from './schema.ts';

/** A service and a request that a pasted line tells of. */
export interface FromPaste {
  /** Where the service is, and how one signs; without its requests. */
  service: Omit<Service, 'id' | 'requests'>;
  request: Omit<ServiceRequest, 'id'>;
  /** A secret that was in the line, for the host. */
  secret: string | null;
  leftOut: string[];
}

/** Words of a template in which nothing is a place. */
const plain = (text: string): string => text.replaceAll('{', '{{');

/** Headers that tell of the program that was used, or of what it can take; here the host says that itself. */
const OF_THE_PROGRAM =
  /^(user-agent|accept-encoding|accept-language|connection|content-length|host|origin|referer|sec-.*|dnt|cache-control|pragma|te|priority)$/i;
const SECRET_HEADER = /^(x-)?(api|auth|access)[-_]?(key|token)$|^x-.*-(key|token)$/i;
const SECRET_PART = /^(api[-_]?key|key|token|access[-_]?token|appid)$/i;

/** Reads a pasted curl line or address. Throws in words when it is neither. */
export function fromPaste(text: string): FromPaste {
  const line = text.trim();
  // Where an address is typed without how it begins, people mean https.
  const typed = /^[a-z][a-z0-9+.-]*:/i.test(line) ? line : `https://${line}`;
  const pasted = /^curl\b/i.test(line) ? readCurl(line) : readCurl(`curl '${typed.replaceAll("'", '%27')}'`);
  const url = new URL(pasted.url);
  const leftOut = [...pasted.leftOut];
  let sign: Sign = { how: 'none' };
  let secret: string | null = null;
  const signs = (how: Sign, by: string): void => {
    if (secret !== null) leftOut.push('a second secret: an app signs in one way');
    else [sign, secret] = [how, by];
  };
  if (pasted.user !== null) signs({ how: 'basic' }, pasted.user);
  const headers: { name: string; value: string }[] = [];
  for (const [name, value] of pasted.headers) {
    const [, how, by] = /^authorization$/i.test(name) ? (/^(bearer|basic)\s+(.+)$/i.exec(value) ?? []) : [];
    if (how) signs({ how: how.toLowerCase() as 'bearer' | 'basic' }, /basic/i.test(how) ? fromBase64(by!) : by!);
    else if (/^authorization$/i.test(name) || SECRET_HEADER.test(name)) signs({ how: 'header', name }, value);
    else if (/^cookie$/i.test(name)) leftOut.push('cookies: an app signs by a key or token');
    else if (OF_THE_PROGRAM.test(name)) leftOut.push(`the header ${name}`);
    else headers.push({ name, value: plain(value) });
  }
  const query: { name: string; value: string }[] = [];
  for (const [name, value] of url.searchParams) {
    if (SECRET_PART.test(name)) signs({ how: 'query', name }, value);
    else query.push({ name, value: plain(value) });
  }
  const body = bodyOf(pasted, headers);
  return {
    service: { name: nameOfHost(url.hostname), test: url.origin, headers: [], sign, limits: USUAL_LIMITS },
    request: {
      name: nameOfRequest(pasted, url),
      method: pasted.method,
      path: plain(url.pathname),
      query,
      headers,
      ...(body && { body }),
      inputs: [],
      picks: [],
    },
    secret,
    leftOut,
  };
}

function fromBase64(text: string): string {
  try {
    return atob(text.trim());
  } catch {
    return text;
  }
}

/** The body as what it is; its type leaves the headers, where it is told by that. */
function bodyOf({ body }: Pasted, headers: { name: string; value: string }[]): RequestBody | undefined {
  if (body === null) return undefined;
  const at = headers.findIndex((h) => h.name.toLowerCase() === 'content-type');
  const type = at < 0 ? '' : headers.splice(at, 1)[0]!.value.split(';')[0]!.trim().toLowerCase();
  if (type === 'application/json' || (type === '' && /^\s*[[{]/.test(body))) {
    try {
      return { is: 'json', json: JSON.stringify(escaped(JSON.parse(body)), null, 2) };
    } catch {
      // What only looks like JSON goes as it was written.
    }
  }
  if (type === 'application/x-www-form-urlencoded' || (type === '' && /^[^=&\s]+=/.test(body)))
    return {
      is: 'form',
      parts: [...new URLSearchParams(body)].map(([name, value]) => ({ name, value: plain(value) })),
    };
  return { is: 'text', type: type || 'text/plain', text: plain(body) };
}

/** JSON in which no text is a place. */
function escaped(json: unknown): unknown {
  if (typeof json === 'string') return plain(json);
  if (Array.isArray(json)) return json.map(escaped);
  if (typeof json !== 'object' || json === null) return json;
  return Object.fromEntries(Object.entries(json).map(([k, v]) => [k, escaped(v)]));
}

/** “api.weather.example” is Weather. */
export function nameOfHost(host: string): string {
  // An address of numbers says nothing by its parts.
  if (/^[\d.]+$|:/.test(host)) return host.replace(/^\[|\]$/g, '');
  const parts = host.split('.').filter((p) => !/^(www\d?|api|app|rest|data|v\d+)$/i.test(p));
  return nameOfPlace([parts.length > 1 ? parts.at(-2)! : (parts[0] ?? host)]);
}

/** The end of the name of a file, which says what it is written in and nothing of what it is about. */
const FILE_END = /\.(json|geojson|csv|tsv|xml|ics|rss|atom|ya?ml|txt|php|aspx?)$/i;
const WORDS: Record<string, string> = { GET: 'Get', POST: 'Add', PUT: 'Put', PATCH: 'Change', DELETE: 'Remove' };
function nameOfRequest({ method }: Pasted, url: URL): string {
  const last = url.pathname.split('/').findLast((p) => p && !/^\d+$/.test(p));
  return `${WORDS[method]!} ${last ? nameOfPlace([last.replace(FILE_END, '')]).toLowerCase() : 'it'}`;
}
