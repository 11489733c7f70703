/**
 * Finds which row of a file was which row before. First by key, then rows that are the same, then what is left
 * between them: the one most alike, in order. With `exact`, by key alone. Gives for each new row the place of the old
 * one, or -1.
 */
export function align(
  before: readonly (readonly string[])[],
  now: readonly (readonly string[])[],
  keys: readonly number[],
  exact = false,
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
  if (exact) return found;
  // The same rows, in the order they come.
  const same = new Map<string, { places: number[]; next: number }>();
  before.forEach((r, i) => {
    if (taken.has(i)) return;
    const text = JSON.stringify(r);
    const list = same.get(text);
    if (list) list.places.push(i);
    else same.set(text, { places: [i], next: 0 });
  });
  now.forEach((r, i) => {
    if (found[i] !== -1) return;
    const list = same.get(JSON.stringify(r));
    if (list && list.next < list.places.length) pair(i, list.places[list.next++]!);
  });
  // What is left over lies between rows that are known.
  const left = new Leftover(before, taken);
  for (let i = 0; i < now.length;) {
    if (found[i] !== -1) {
      i++;
      continue;
    }
    let end = i;
    while (end < now.length && found[end] === -1) end++;
    const after = i === 0 ? -1 : found[i - 1]!;
    const until = end === now.length ? before.length : found[end]!;
    for (const [k, old] of left.pairs(now, i, end, after, until)) pair(k, old);
    i = end;
  }
  return found;
}

/** So many old rows in order are looked at for a new one, and so many that share one value with it. */
const NEAR = 64;
const SHARING = 16;

/** Old rows that nothing has claimed. Each is found without going through those that have been. */
class Leftover {
  /** The next unclaimed row from each place on, or a step on the way to it. */
  private readonly next: Int32Array;
  private sharing: Map<string, number[]> | null = null;

  constructor(
    private readonly rows: readonly (readonly string[])[],
    taken: ReadonlySet<number>,
  ) {
    this.next = new Int32Array(rows.length + 1).map((_, i) => i);
    for (const i of taken) this.next[i] = i + 1;
  }

  private from(place: number): number {
    let at = place;
    while (this.next[at] !== at) {
      // Each walk makes the next one shorter.
      this.next[at] = this.next[this.next[at]!]!;
      at = this.next[at]!;
    }
    return at;
  }

  private firstOf(count: number, after: number, until: number): number[] {
    const out: number[] = [];
    for (let k = this.from(after + 1); k < until && out.length < count; k = this.from(k + 1)) out.push(k);
    return out;
  }

  /** Pairs of new rows and the old ones they may be: all in order where as many are left, otherwise those alike. */
  *pairs(
    now: readonly (readonly string[])[],
    from: number,
    end: number,
    after: number,
    until: number,
  ): Generator<[number, number]> {
    const few = this.firstOf(end - from + 1, after, until);
    if (few.length === end - from) {
      for (const [k, old] of few.entries()) yield this.claim(from + k, old);
      return;
    }
    for (let i = from; i < end; i++) {
      const near = this.firstOf(NEAR, after, until);
      const old =
        near.find((k) => alike(this.rows[k]!, now[i]!)) ??
        (near.length < NEAR
          ? undefined
          : this.sharingWith(now[i]!, near.at(-1)!, until).find((k) => alike(this.rows[k]!, now[i]!)));
      if (old !== undefined) yield this.claim(i, old);
    }
  }

  private claim(i: number, old: number): [number, number] {
    this.next[old] = old + 1;
    return [i, old];
  }

  /** Unclaimed rows further on that have a rare value of this row in the same place. */
  private sharingWith(row: readonly string[], after: number, until: number): number[] {
    if (!this.sharing) {
      this.sharing = new Map();
      for (let k = this.from(0); k < this.rows.length; k = this.from(k + 1))
        for (const [c, v] of this.rows[k]!.entries()) {
          const key = `${c} ${v}`;
          const rows = this.sharing.get(key);
          if (!rows) this.sharing.set(key, [k]);
          else if (rows.length <= SHARING) rows.push(k);
        }
    }
    const found = new Set<number>();
    for (const [c, v] of row.entries()) {
      const rows = v === '' ? undefined : this.sharing.get(`${c} ${v}`);
      if (rows && rows.length <= SHARING)
        for (const k of rows) if (k > after && k < until && this.next[k] === k) found.add(k);
    }
    return [...found].sort((a, b) => a - b);
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
