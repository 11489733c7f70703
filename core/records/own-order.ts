/** A record's place in the order people drag records into; null when it has none yet. */
export interface Placed {
  id: string;
  at: number | null;
}

/** Gaps narrower than this are widened by counting anew, long before halving runs out of digits. */
const NARROW = 1e-6;

/**
 * The numbers to write so that a record stands before another, or last. Mostly that is one number between its new
 * neighbours; where there is no room, or records have no number yet, all are counted anew.
 */
export function moveInOrder(records: readonly Placed[], id: string, before: string | null): Map<string, number> {
  const moved = records.find((r) => r.id === id);
  if (!moved || before === id) return new Map();
  const rest = records.filter((r) => r.id !== id);
  const found = before === null ? -1 : rest.findIndex((r) => r.id === before);
  const to = found < 0 ? rest.length : found;
  const above = rest[to - 1];
  const below = rest[to];
  const tidy = rest.every((r, i) => r.at !== null && (i === 0 || r.at > (rest[i - 1]!.at ?? Infinity)));
  const low = above?.at ?? (below?.at ?? 2) - 2;
  const high = below?.at ?? low + 2;
  if (tidy && high - low > NARROW) return new Map([[id, (low + high) / 2]]);
  const order = [...rest.slice(0, to), moved, ...rest.slice(to)];
  return new Map(order.flatMap((r, i) => (r.at === i + 1 ? [] : [[r.id, i + 1]])));
}
