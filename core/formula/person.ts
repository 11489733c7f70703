import type { Node } from './ast.ts';
import { RecordValue, type Value } from './values.ts';

/** Is this part of a formula the person who uses the app? */
export const isPersonCall = (n: Node): boolean =>
  n.t === 'call' && n.of.t === 'name' && n.of.name === 'person' && n.args.length === 0;

/** Is a stored formula the person who uses the app, and nothing else? */
export const isPersonFormula = (stored: string): boolean => stored.replace(/\s/g, '') === 'person()';

/**
 * Is a value the person who uses the app, or is that person among its items? A record is, when it is the person's own in
 * the table of people, or goes by the person's name or mail address; a text, when it is that. While nobody has said who
 * uses the app it is no one: what has no owner belongs to nobody then.
 */
export function isThePerson(v: Value, person: Value): boolean {
  if (typeof person !== 'string' || person === '') return false;
  if (Array.isArray(v)) return v.some((x) => isThePerson(x, person));
  if (v instanceof RecordValue) return v.isPerson(person);
  return typeof v === 'string' && v.trim().toLowerCase() === person.trim().toLowerCase();
}
