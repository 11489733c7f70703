import { newId } from './ids.ts';
import type { AnyElement, AnyStep } from './meaning.ts';

/**
 * Going through elements and steps of any kind without knowing the kind. What stands in a slot is known by its id,
 * whose letter says what it names: `e_` an element, `p_` a step.
 */

const holds = (value: unknown, letter: string): value is { id: string }[] =>
  Array.isArray(value) &&
  value.length > 0 &&
  typeof (value[0] as { id?: unknown } | null)?.id === 'string' &&
  (value[0] as { id: string }).id.startsWith(letter);

/** The filled slots of an element or step, by name. */
function slots<T>(owner: object, letter: string): [string, T[]][] {
  const found: [string, T[]][] = [];
  for (const name of Object.keys(owner)) {
    const value = (owner as Record<string, unknown>)[name];
    if (holds(value, letter)) found.push([name, value as unknown as T[]]);
  }
  return found;
}

/** The lists of elements that stand in another, one for each slot that holds some. */
export const elementLists = <E extends AnyElement>(e: E): E[][] => slots<E>(e, 'e_').map(([, list]) => list);

/** The elements that stand in another, slot after slot. */
export const childrenOf = <E extends AnyElement>(e: E): E[] => elementLists(e).flat();

/** Visits elements and all that stand in them, parents first. */
export function walkElements<E extends AnyElement>(
  elements: readonly E[],
  visit: (e: E, parent: E | null) => void,
  parent: E | null = null,
): void {
  for (const e of elements) {
    visit(e, parent);
    walkElements(childrenOf(e), visit, e);
  }
}

/** The lists of steps that stand in a step, by the name of their slot. */
export const stepLists = <S extends AnyStep>(s: S): [string, S[]][] => slots<S>(s, 'p_');

/** Visits steps and all that stand in them, in reading order. */
export function walkSteps<S extends AnyStep>(steps: readonly S[], visit: (s: S) => void): void {
  for (const s of steps) {
    visit(s);
    for (const [, inner] of stepLists(s)) walkSteps(inner, visit);
  }
}

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
        if ((key === 'id' || key === 'result' || key === 'reason') && typeof v === 'string' && v)
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

/** What the reason of a step that failed is called in formulas. */
export const REASON = 'the reason';

/** The results that steps give, with the names that formulas show for them. */
export function resultsOf(steps: readonly AnyStep[]): { id: string; name: string }[] {
  const results: { id: string; name: string }[] = [];
  walkSteps(steps, (s) => {
    const { result, resultName } = s as AnyStep & { result?: unknown; resultName?: unknown };
    if (typeof result === 'string' && typeof resultName === 'string') results.push({ id: result, name: resultName });
    if (s.ifFails && s.reason) results.push({ id: s.reason, name: REASON });
  });
  return results;
}
