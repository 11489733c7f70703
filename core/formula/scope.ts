import type { RecordValue, Value } from './values.ts';
import type { Type } from './types.ts';

/** Slots a compiled formula reads while it runs; slot 0 holds the runtime, the rest is settled at compile time. */
export type Frame = Value[];

/** Where a value comes from, so that a change can be traced to the formulas that saw it. */
export type Origin =
  /** Reached from the record the formula belongs to, along these link fields. */
  | { from: 'self'; hops: string[] }
  /** Reached from a thing at hand, such as the record a screen was given. */
  | { from: 'thing'; thing: string; hops: string[] }
  /** Any record of a table. */
  | { from: 'table'; table: string };

/**
 * What a part of a formula is worked out from, beside stored records. A part that hangs on none of it is the same for
 * all records, and one that hangs on little is worked out once for each value of that.
 */
export interface Input {
  /** Two inputs of one id read the same. */
  id: string;
  read(frame: Frame): Value;
  /** It has few values: what hangs on it alone is kept for each of them. */
  few?: true;
  /** What it is worked out from itself, where that is not just its id. */
  from?: WorkedOutFrom;
}

/** The inputs of something. */
export interface WorkedOutFrom {
  readonly inputs: ReadonlyMap<string, Input>;
  readonly fickle: boolean;
  mentions(id: string): boolean;
  isOnly(id: string): boolean;
}

/** Something a formula may name. `id` is what is stored in its place, so that renaming breaks nothing. */
export interface Name {
  id: string;
  name: string;
  type: Type;
  read(frame: Frame): Value;
  /** What reading it hangs on, beside stored records; absent when that is not known. */
  inputs?: readonly Input[];
  origin?: Origin;
  /** Set when reading it reads a stored or worked-out field of the record. */
  field?: { table: string; id: string };
}

/** A field or link of a record. */
export interface Member {
  id: string;
  name: string;
  type: Type;
  /** It is a link to one record. */
  leadsToOne?: true;
  get(record: RecordValue): Value;
}

/** The tables a formula may walk through. */
export interface Shapes {
  members(table: string): readonly Member[];
  /** A field or link by its id or name. */
  member(table: string, name: string): Member | undefined;
  /** Every name that may stand behind a dot. */
  memberNames(): Iterable<string>;
}

export const NO_SHAPES: Shapes = { members: () => [], member: () => undefined, memberNames: () => [] };

/** A field that a formula reads, and the way to it. */
export interface Dependency {
  table: string;
  field: string;
  origin: Origin;
}

/** Names to look up, by what they are called or stored as. */
export interface Names {
  get(name: string): Name | undefined;
  all(): Iterable<Name>;
}

/** Names that are there already. Of two that are called the same the first counts. */
export function listed(names: Iterable<Name>): Names {
  const found = new Map<string, Name>();
  for (const n of names) {
    if (!found.has(n.name)) found.set(n.name, n);
    if (n.id && n.id !== n.name) found.set(n.id, n);
  }
  return { get: (name) => found.get(name), all: () => new Set(found.values()) };
}

/** What has a name in a part of a formula: its own names first, then those around it. */
export class Scope {
  constructor(
    readonly parent: Scope | null,
    private readonly names: Names,
    /** The slot of an item whose entries are known only at run time. */
    readonly openSlot: number | null = null,
  ) {}

  find(name: string): Name | undefined {
    return this.names.get(name) ?? this.parent?.find(name);
  }

  /** Slots of open items between here and the scope that knows the name, innermost first. */
  openSlots(name: string): number[] {
    if (this.names.get(name)) return [];
    const outer = this.parent?.openSlots(name) ?? [];
    return this.openSlot === null ? outer : [this.openSlot, ...outer];
  }

  all(): Name[] {
    return [...this.names.all(), ...(this.parent?.all() ?? [])];
  }
}
