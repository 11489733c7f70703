import { newId } from './ids.ts';

/** A deep copy by way of JSON: it takes the drafts of an edit too, which a structured clone refuses. */
export const cloned = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

const ID = /\b[a-z]_[a-z0-9]{6,24}\b/g;

/**
 * A copy in which everything that is named inside has a new id, and whatever refers to it inside refers to the copy:
 * a message that uses the result of a copied step uses the copy's result.
 */
export function copyOf<T extends { id: string }>(thing: T, id: (letter: string) => string = newId): T {
  const fresh = new Map<string, string>();
  const collect = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(collect);
    else if (value && typeof value === 'object')
      for (const [key, v] of Object.entries(value)) {
        if ((key === 'id' || key === 'result' || key === 'reason' || key === 'sort') && typeof v === 'string' && v)
          fresh.set(v, id(v[0]!));
        else collect(v);
      }
  };
  collect(thing);
  const renewed = (value: unknown): unknown => {
    if (typeof value === 'string') return value.replace(ID, (token) => fresh.get(token) ?? token);
    if (Array.isArray(value)) return value.map(renewed);
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, renewed(v)]));
    return value;
  };
  return renewed(thing) as T;
}
