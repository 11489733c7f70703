import { jsonpath } from 'json-p3';

/** A place in an answer: names of members, and numbers of elements. */
export type Location = readonly (string | number)[];

/** The place as a JSONPath (RFC 9535, 2.7: a normalized path). */
export const pathOf = (at: Location): string =>
  `$${at.map((k) => (typeof k === 'number' ? `[${k}]` : `[${quoted(k)}]`)).join('')}`;

/** The same place in every element of the lists that lead to it. */
export const pathInEach = (at: Location): string =>
  `$${at.map((k) => (typeof k === 'number' ? '[*]' : `[${quoted(k)}]`)).join('')}`;

const SHORT: Record<string, string> = {
  '\b': '\\b',
  '\f': '\\f',
  '\n': '\\n',
  '\r': '\\r',
  '\t': '\\t',
  "'": "\\'",
  '\\': '\\\\',
};
// oxlint-disable-next-line no-control-regex -- they are what must be escaped (RFC 9535, 2.7)
const TO_ESCAPE = /[\u0000-\u001f'\\]/g;
function quoted(name: string): string {
  const escaped = name.replace(TO_ESCAPE, (c) => SHORT[c] ?? `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);
  return `'${escaped}'`;
}

/** The innermost list that leads to a place; null where none does. */
export function listAround(at: Location): Location | null {
  const last = at.map((k) => typeof k).lastIndexOf('number');
  return last < 0 ? null : at.slice(0, last);
}

/** What is at a path of an answer: nothing, one thing, or several. Throws in words when it is no path. */
export function picked(answer: unknown, path: string): unknown[] {
  let compiled;
  try {
    compiled = jsonpath.compile(path);
  } catch (e) {
    throw new Error(`“${path}” is no path: ${(e as Error).message.split('\n')[0]!}.`, { cause: e });
  }
  return compiled.query(answer as never).values();
}

/** What a place is called by itself: “unit_price” and “unitPrice” are Unit price; an element of a list as its list is. */
export function nameOfPlace(at: Location): string {
  const last = at.findLast((k) => typeof k === 'string') as string | undefined;
  const words = (last ?? 'Answer')
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .replace(/[_\-.\s]+/g, ' ')
    .trim()
    .toLowerCase();
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : 'Value';
}
