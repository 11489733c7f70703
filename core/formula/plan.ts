import type { Runtime } from './builtins/define.ts';
import { spend } from './budget.ts';
import type { Run } from './closures.ts';
import { keyOf, rankOf } from './keys.ts';
import { add, divide } from './number.ts';
import type { Reads } from './reads.ts';
import type { Frame } from './scope.ts';
import { CalendarDate, compare, type Value } from './values.ts';

/** One side of a comparison, and what it is worked out from. */
export interface Side {
  run: Run;
  reads: Reads;
}

/** A comparison in a condition on the items of a list. */
export interface Comparison {
  op: '=' | '<' | '<=' | '>' | '>=';
  /** Hangs on the item alone. */
  of: Side;
  /** Hangs on anything but the item. */
  with: Side;
}

/** The figures that can be read off an order of items. */
export type Fold = 'sum' | 'mean' | 'min' | 'max';
export const FOLDS: ReadonlySet<string> = new Set<Fold>(['sum', 'mean', 'min', 'max']);

/** A list shorter than this is gone through. */
const SHORT = 24;

/**
 * How a condition finds its items without going through the list for every record: equalities by hash, one order by
 * halving. A list is indexed when it is asked a second time while nothing has changed.
 */
export class Plan {
  private stamp: object | null = null;
  private lists = new Map<readonly Value[], ListIndex | 'asked once'>();

  constructor(
    private readonly slot: number,
    readonly equalities: readonly Comparison[],
    /** The order that is asked for, when there is one. */
    readonly order: Comparison | null,
    /** The condition says nothing else. */
    readonly whole: boolean,
  ) {}

  /** The items that fulfil the equalities, in their order, among which are all that fulfil the condition; null when they have to be looked for. */
  candidates(f: Frame, list: readonly Value[]): readonly Value[] | null {
    return this.equalities.length ? (this.group(f, list)?.items ?? null) : null;
  }

  /** How many items fulfil a condition that says nothing else; null when they have to be counted. */
  count(f: Frame, list: readonly Value[]): number | null {
    if (!this.whole) return null;
    const group = this.group(f, list);
    if (!group) return null;
    return this.order ? (this.part(f, group)?.size ?? 0) : group.items.length;
  }

  /** A figure of what `of` gives for each item that fulfils the condition; undefined when it has to be worked out. */
  fold(f: Frame, list: readonly Value[], how: Fold, of: (item: Value) => Value): Value | undefined {
    if (!this.whole || !this.order) return undefined;
    const group = this.group(f, list);
    if (!group) return undefined;
    const part = this.part(f, group);
    return part ? part.row.fold(how, of, part.up, part.size) : undefined;
  }

  private group(f: Frame, list: readonly Value[]): Group | null {
    const index = this.indexOf(f, list);
    return index && index.group(this.equalities.map((e) => keyOf(e.with.run(f))));
  }

  /** The items in order on one side of a value. */
  private part(f: Frame, group: Group): { row: InOrder; up: boolean; size: number } | null {
    const { op, of, with: than } = this.order!;
    const value = rankOf(than.run(f));
    if (!value) return null;
    const outer = f[this.slot] ?? null;
    const row = group.inOrder(value.kind, (item) => {
      f[this.slot] = item;
      return of.run(f);
    });
    f[this.slot] = outer;
    if (!row) return null;
    const up = op === '<' || op === '<=';
    const below = row.below(value.rank, op === '<=' || op === '>');
    return { row, up, size: up ? below : row.items.length - below };
  }

  private indexOf(f: Frame, list: readonly Value[]): ListIndex | null {
    const stamp = (f[0] as unknown as Runtime | null)?.stamp;
    if (!stamp || list.length < SHORT) return null;
    if (stamp !== this.stamp) {
      this.stamp = stamp;
      this.lists = new Map();
    }
    const known = this.lists.get(list);
    if (known instanceof ListIndex) return known.isWhole ? known : null;
    const index = new ListIndex();
    this.lists.set(list, known ? index : 'asked once');
    if (!known) return null;
    const outer = f[this.slot] ?? null;
    spend(list.length);
    index.fill(list, (item) => {
      f[this.slot] = item;
      return this.equalities.map((e) => keyOf(e.of.run(f)));
    });
    f[this.slot] = outer;
    return index.isWhole ? index : null;
  }
}

const joined = (keys: readonly (string | undefined)[]): string | null => {
  let all = '';
  for (const k of keys) {
    if (k === undefined) return null;
    all += `${k.length}:${k}`;
  }
  return all;
};

/** The items of a list by the values of their equalities. */
class ListIndex {
  private readonly groups = new Map<string, Group>();
  /** False while it is being made, and when an item has a value that has no key. */
  isWhole = false;

  fill(list: readonly Value[], keysOf: (item: Value) => (string | undefined)[]): void {
    for (const item of list) {
      const key = joined(keysOf(item));
      if (key === null) return;
      let group = this.groups.get(key);
      if (!group) this.groups.set(key, (group = new Group()));
      group.items.push(item);
    }
    this.isWhole = true;
  }

  /** Those with these keys; null when one of them is none. */
  group(keys: readonly (string | undefined)[]): Group | null {
    const key = joined(keys);
    return key === null ? null : (this.groups.get(key) ?? NOBODY);
  }
}

class Group {
  readonly items: Value[] = [];
  private rows: Map<string, InOrder> | null = null;

  /** The items whose value is of a kind, put in order once; null for none. */
  inOrder(kind: string, valueOf: (item: Value) => Value): InOrder | null {
    if (!this.rows) {
      const rows = new Map<string, { item: Value; rank: number | string }[]>();
      spend(this.items.length);
      for (const item of this.items) {
        const ranked = rankOf(valueOf(item));
        if (!ranked) continue;
        const row = rows.get(ranked.kind);
        if (row) row.push({ item, rank: ranked.rank });
        else rows.set(ranked.kind, [{ item, rank: ranked.rank }]);
      }
      this.rows = new Map([...rows].map(([k, row]) => [k, new InOrder(row)]));
    }
    return this.rows.get(kind) ?? null;
  }
}
const NOBODY = new Group();

/** Items in the order of a value of theirs. */
class InOrder {
  readonly items: readonly Value[];
  private readonly ranks: readonly (number | string)[];
  private readonly folds = new Map<string, (Value | undefined)[]>();

  constructor(row: { item: Value; rank: number | string }[]) {
    row.sort((a, b) => (a.rank < b.rank ? -1 : a.rank > b.rank ? 1 : 0));
    spend(row.length * Math.ceil(Math.log2(row.length + 1)));
    this.items = row.map((r) => r.item);
    this.ranks = row.map((r) => r.rank);
  }

  /** How many stand before a rank, or before and at it. */
  below(rank: number | string, andAt: boolean): number {
    let [low, high] = [0, this.ranks.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      const r = this.ranks[mid]!;
      if (r < rank || (andAt && r === rank)) low = mid + 1;
      else high = mid;
    }
    return low;
  }

  /** The figure of the first or last so many items; undefined where their values are not plain. */
  fold(how: Fold, of: (item: Value) => Value, up: boolean, size: number): Value | undefined {
    const key = `${how} ${up}`;
    let folds = this.folds.get(key);
    if (!folds) this.folds.set(key, (folds = running(how, up ? this.items : [...this.items].reverse(), of)));
    return folds[size];
  }
}

/** The figures of the first none, one, two … of these; undefined from where their values are of different kinds on. */
function running(how: Fold, items: readonly Value[], of: (item: Value) => Value): (Value | undefined)[] {
  const out: (Value | undefined)[] = [how === 'sum' ? 0 : null];
  let [total, filled]: [number, number] = [0, 0];
  let best: Value = null;
  spend(items.length);
  for (const item of items) {
    const v = of(item);
    if (v !== null) {
      if (how === 'sum' || how === 'mean') {
        if (typeof v !== 'number') break;
        total = add(total, v);
      } else {
        if (typeof v !== 'number' && typeof v !== 'string' && !(v instanceof CalendarDate)) break;
        const c = best === null ? 0 : compare(v, best);
        if (c === null) break;
        if (best === null || (how === 'min' ? c < 0 : c > 0)) best = v;
      }
      filled++;
    }
    out.push(how === 'sum' ? total : filled === 0 ? null : how === 'mean' ? divide(total, filled) : best);
  }
  return out;
}
