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

/** What the reason of a step that failed is called in formulas. */
export const REASON = 'the reason';
/** What the sort of its failure is called. */
export const SORT = 'the sort of failure';

/** What is known in the steps for a failure, by the ids of a step: texts. */
export const failureResults = ({ reason, sort }: Pick<AnyStep, 'reason' | 'sort'>): { id: string; name: string }[] => [
  ...(reason ? [{ id: reason, name: REASON }] : []),
  ...(sort ? [{ id: sort, name: SORT }] : []),
];

/** The results that steps give, with the names that formulas show for them. */
export function resultsOf(steps: readonly AnyStep[]): { id: string; name: string }[] {
  const results: { id: string; name: string }[] = [];
  walkSteps(steps, (s) => {
    const { result, resultName } = s as AnyStep & { result?: unknown; resultName?: unknown };
    if (typeof result === 'string' && typeof resultName === 'string') results.push({ id: result, name: resultName });
    if (s.ifFails) results.push(...failureResults(s));
  });
  return results;
}
