/**
 * Finds which row of a file was which row before. First by key, then rows that are the same, then what is left
 * between them: the one most alike, in order. Gives for each new row the place of the old one, or -1.
 */
export function align(
  before: readonly (readonly string[])[],
  now: readonly (readonly string[])[],
  keys: readonly number[],
): number[] {
  const found = new Array<number>(now.length).fill(-1);
  const taken = new Set<number>();
  const pair = (i: number, old: number): void => {
    found[i] = old;
    taken.add(old);
  };
  if (keys.length) {
    const places = unique(before.map((r) => keyOf(r, keys)));
    const again = unique(now.map((r) => keyOf(r, keys)));
    for (const [key, i] of again) {
      const old = places.get(key);
      if (old !== undefined) pair(i, old);
    }
  }
  // The same rows, in the order they come.
  const same = new Map<string, number[]>();
  before.forEach((r, i) => {
    if (taken.has(i)) return;
    const text = JSON.stringify(r);
    const list = same.get(text);
    if (list) list.push(i);
    else same.set(text, [i]);
  });
  now.forEach((r, i) => {
    if (found[i] !== -1) return;
    const old = same.get(JSON.stringify(r))?.shift();
    if (old !== undefined) pair(i, old);
  });
  // What is left over lies between rows that are known.
  for (let i = 0; i < now.length;) {
    if (found[i] !== -1) {
      i++;
      continue;
    }
    let end = i;
    while (end < now.length && found[end] === -1) end++;
    const left = between(
      before.length,
      taken,
      i === 0 ? -1 : found[i - 1]!,
      end === now.length ? before.length : found[end]!,
    );
    pairAlike(before, now, i, end, left, pair);
    i = end;
  }
  return found;
}

/** Old rows between two known ones that nothing has claimed. */
function between(count: number, taken: ReadonlySet<number>, after: number, until: number): number[] {
  const out: number[] = [];
  for (let k = after + 1; k < Math.min(until, count); k++) if (!taken.has(k)) out.push(k);
  return out;
}

function pairAlike(
  before: readonly (readonly string[])[],
  now: readonly (readonly string[])[],
  from: number,
  end: number,
  left: number[],
  pair: (i: number, old: number) => void,
): void {
  if (left.length === end - from) {
    left.forEach((old, k) => pair(from + k, old));
    return;
  }
  for (let i = from; i < end; i++) {
    const at = left.findIndex((old) => alike(before[old]!, now[i]!));
    if (at >= 0) pair(i, left.splice(at, 1)[0]!);
  }
}

/** Are at least half of the filled cells the same? */
function alike(a: readonly string[], b: readonly string[]): boolean {
  let same = 0;
  let filled = 0;
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    if (!a[i] && !b[i]) continue;
    filled++;
    if (a[i] === b[i]) same++;
  }
  return filled > 0 && same * 2 >= filled;
}

const keyOf = (row: readonly string[], keys: readonly number[]): string | null => {
  const parts = keys.map((k) => (row[k] ?? '').trim().toLowerCase());
  return parts.includes('') ? null : JSON.stringify(parts);
};

/** Places of keys that occur once. */
function unique(keys: readonly (string | null)[]): Map<string, number> {
  const places = new Map<string, number>();
  const twice = new Set<string>();
  keys.forEach((key, i) => {
    if (key === null) return;
    if (places.has(key)) twice.add(key);
    else places.set(key, i);
  });
  for (const key of twice) places.delete(key);
  return places;
}
