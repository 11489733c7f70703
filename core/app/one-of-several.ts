/** How a field of several is set: to a value, with one more, or without one that it holds. */
export type SetsSeveral = { how: 'to' | 'with' | 'without'; value: string };

/** The formula for it; `held` is the formula of what the field holds now. */
export const severalText = (held: string, { how, value }: SetsSeveral): string =>
  how === 'to' ? value : how === 'with' ? `union(${held}, [${value}])` : `${held}[item != ${value}]`;

/** Reads what {@link severalText} wrote; anything else is a value that it is set to. */
export function readSeveral(held: string, formula: string): SetsSeveral {
  const inside = (before: string, after: string): string | null =>
    formula.startsWith(before) && formula.endsWith(after) ? formula.slice(before.length, -after.length) : null;
  const one = (value: string | null): value is string => value !== null && !/[[\]]/.test(value);
  const more = inside(`union(${held}, [`, '])');
  if (one(more)) return { how: 'with', value: more };
  const less = inside(`${held}[item != `, ']');
  return one(less) ? { how: 'without', value: less } : { how: 'to', value: formula };
}
