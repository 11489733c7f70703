import { raised } from '../records/raise.ts';
import type { Amount, Counted } from '../records/change.ts';
import type { Cell } from '../fields/lists.ts';

/** A cell and when it was written. */
interface Now {
  cell: Cell;
  stamp: string;
}

/** Of the amounts added to one cell so many are remembered one by one; older ones are taken together. */
const MOST_AMOUNTS = 400;

/**
 * The cells of one host that amounts are added to. A cell is what it was set to last, and every amount that has a later
 * stamp: so it is the same in whatever order they arrive. What was taken together can be added to, and set over.
 */
export class Counts {
  private readonly cells = new Map<string, Map<string, Counted>>();

  constructor(private readonly most = MOST_AMOUNTS) {}

  /** What made up the cells now, by record and field, apart from what comes later. */
  snapshot(): Map<string, Record<string, Counted>> {
    return new Map(Array.from(this.cells, ([record, fields]) => [record, Object.fromEntries(fields)]));
  }

  /** Brings back of a record what {@link snapshot} gave. */
  load(record: string, counted: Record<string, Counted>): void {
    this.cells.set(record, new Map(Object.entries(counted)));
  }

  has(record: string, field: string): boolean {
    return this.cells.get(record)?.has(field) ?? false;
  }

  /**
   * Takes an amount, or a value that a counted cell is set to; each once, since no two have the same stamp. Gives the
   * cell that comes of it; undefined when it was set later than that. `isKnown` says of an amount that it was taken
   * before; `now` is the cell with its stamp, should no amount have been added to it yet.
   */
  take(record: string, field: string, amount: Amount, isKnown: boolean, now: Now): Cell | undefined {
    const known = this.cells.get(record)?.get(field) ?? { base: now.cell, at: now.stamp, later: [] };
    const next = 'to' in amount ? setTo(known, amount) : isKnown ? known : added(known, amount);
    if (!next) return undefined;
    const cell = next.later.length === 0 ? next.base : raised(next.base, ...next.later.map(([, n]) => n));
    const fields = new Map(this.cells.get(record));
    fields.set(field, next.later.length > this.most ? together(next) : next);
    this.put(record, fields);
    return cell;
  }

  /** The fields of a record that amounts were added to. */
  fieldsOf(record: string): string[] {
    return [...(this.cells.get(record)?.keys() ?? [])];
  }

  /** Lets go of what made up the cells of a record. */
  drop(record: string): void {
    this.cells.delete(record);
  }

  /** Does something to the counts that can be taken back as a whole, as long as nothing else is done. */
  trying<T>(work: () => T): { done: T; takeBack(): void } {
    const before = new Map<string, Map<string, Counted> | undefined>();
    this.journal = before;
    const done = work();
    this.journal = null;
    const takeBack = (): void => {
      for (const [record, fields] of before) this.put(record, fields);
    };
    return { done, takeBack };
  }
  private journal: Map<string, Map<string, Counted> | undefined> | null = null;

  private put(record: string, fields: Map<string, Counted> | undefined): void {
    if (this.journal && !this.journal.has(record)) this.journal.set(record, this.cells.get(record));
    if (fields) this.cells.set(record, fields);
    else this.cells.delete(record);
  }
}

function setTo(known: Counted, amount: { to: Cell; at: string }): Counted | null {
  const { at, upTo = '', later } = known;
  // Sent again, it is what stands already.
  if (amount.at === at) return known;
  if (amount.at < at || amount.at <= upTo) return null;
  return { base: amount.to, at: amount.at, later: later.filter(([stamp]) => stamp > amount.at) };
}

function added(known: Counted, { by, at }: { by: number; at: string }): Counted | null {
  if (at <= known.at) return null;
  if (at <= (known.upTo ?? '')) return { ...known, base: raised(known.base, by) };
  // Nearly always the new one is the last.
  let place = known.later.length;
  while (place > 0 && known.later[place - 1]![0] > at) place--;
  if (known.later[place - 1]?.[0] === at) return known;
  return { ...known, later: [...known.later.slice(0, place), [at, by], ...known.later.slice(place)] };
}

/** The older half of the amounts as part of what the cell was set to. */
function together({ base, at, later }: Counted): Counted {
  const half = later.length >> 1;
  const older = later.slice(0, half);
  return { base: raised(base, ...older.map(([, n]) => n)), at, upTo: older.at(-1)![0], later: later.slice(half) };
}
