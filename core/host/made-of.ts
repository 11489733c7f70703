import type { Cell } from '../fields/lists.ts';
import type { Who } from '../access/access.ts';
import { newId } from '../document/ids.ts';
import type { Amount, Change, Draft, KeptChange } from '../records/change.ts';
import type { HybridClock } from './clock.ts';
import type { Counts } from './counts.ts';
import type { KnownIds } from './known-ids.ts';
import { isRemoved, makesRecord, type Replica } from './replica.ts';

/** A change that may be made. */
export interface Making {
  change: Change;
  /** Its stamp had to be corrected. */
  corrected: boolean;
  /** It was corrected and kept before, and is sent once more. */
  isKnown: boolean;
}
/** What comes of it: what is kept and passed on, and the fields that were set later than it. */
export interface Made {
  changes: KeptChange[];
  passed: string[];
}

/** What changes of one host are kept as: amounts, and what is set or brought back among them, as the cells they come to. */
export class MadeOf {
  constructor(
    private readonly replica: Replica,
    private readonly clock: HybridClock,
    private readonly counts: Counts,
    /** Changes that were made before. */
    private readonly known: KnownIds,
  ) {}

  /** A logged change of counted cells is counted once more, as it was when it was made. */
  countAgain({ id, record, amounts }: Extract<Change, { do: 'set' }>): void {
    const isKnown = this.known.has(id);
    for (const [field, amount] of Object.entries(amounts ?? {}))
      this.counts.take(record, field, amount, isKnown, this.cellOf(record, field));
  }

  private cellOf(record: string, field: string): { cell: Cell; stamp: string } {
    const s = this.replica.state(record);
    const there = s !== undefined && field in s.cells;
    return { cell: s?.cells[field] ?? null, stamp: there ? (s.stamps?.[field] ?? s.stamp) : '' };
  }

  /**
   * What changes are kept and passed on as. Of amounts, and of what is set or brought back among amounts, the host works out the cell and
   * gives it a stamp of its own. `passed` are fields that were set later than that.
   */
  of<F extends Making>(fitting: readonly F[]): (F & Made)[] {
    const turn = new Turn();
    return fitting.map((x) => ({ ...x, ...(x.isKnown ? { changes: [], passed: [] } : this.made(x.change, turn)) }));
  }

  private made(change: Change, turn: Turn): Made {
    const { record } = change;
    const state = this.replica.state(record);
    // When it was removed; undefined where it is there, or never was.
    const wasGone = state && isRemoved(state) && !turn.there.has(record) ? state.removed : undefined;
    const goneAt = turn.removed.get(record) ?? wasGone;
    // What was counted of a removed record stays, for the amounts that were added after it was brought back.
    if (change.do === 'remove') turn.removed.set(record, change.stamp);
    else if (change.do !== 'raise') turn.isThere(record);
    if (change.do === 'remove' || (change.do === 'restore' && !change.cells)) return { changes: [change], passed: [] };
    const counted: Record<string, Cell> = {};
    const amounts: Record<string, Amount> = {};
    const passed: string[] = [];
    const note = (field: string, amount: Amount): void => {
      const now = turn.ahead.get(`${record} ${field}`) ?? this.cellOf(record, field);
      const cell = this.counts.take(record, field, amount, false, now);
      amounts[field] = amount;
      if (cell === undefined) passed.push(field);
      else counted[field] = cell;
    };
    if (change.do === 'raise') {
      const { by, cells, makes, do: _raise, ...rest } = change;
      const isNew = !turn.there.has(record) && makesRecord(change, state);
      if (isNew && state) {
        const id = `${change.id.slice(0, 58)}+m`;
        const back = this.made({ ...rest, id, do: 'restore', cells: makes }, turn);
        const { makes: _makes, ...raise } = change;
        const set = this.made(raise, turn);
        return { changes: [...back.changes, ...set.changes], passed: set.passed };
      }
      turn.isThere(record);
      for (const [field, n] of Object.entries(by)) note(field, { by: n, at: change.stamp });
      const all = { ...(isNew && makes), ...cells, ...counted };
      // It is kept also where nothing comes of it, so that it is known when it is sent again.
      return { changes: [{ ...rest, do: 'set', stamp: this.clock.next(), cells: all, amounts }], passed };
    }
    const isBack = change.do === 'restore';
    const plain: Record<string, Cell> = {};
    // A record that comes back has the cells that it comes with, and no others: removing emptied them then, so that
    // amounts that were added elsewhere since have their part.
    if (isBack && goneAt !== undefined)
      for (const field of this.counts.fieldsOf(record))
        if (!(field in change.cells!)) note(field, { to: null, at: goneAt });
    for (const [field, cell] of Object.entries(change.cells!))
      if (this.counts.has(record, field)) note(field, { to: cell, at: change.stamp });
      else {
        plain[field] = cell;
        turn.ahead.set(`${record} ${field}`, { cell, stamp: change.stamp });
      }
    if (Object.keys(amounts).length === 0) return { changes: [change], passed };
    // One change has one stamp: what is counted is a change of its own.
    const rest = isBack || Object.keys(plain).length ? [{ ...change, cells: plain }] : [];
    const id = rest.length ? `${change.id.slice(0, 58)}+n` : change.id;
    const set = { ...change, do: 'set' as const, id, stamp: this.clock.next(), cells: counted, amounts };
    return { changes: [...rest, set], passed };
  }
}

/** What the changes of a turn have made so far, before any of it is kept. */
class Turn {
  /** Cells as they have left them. */
  readonly ahead = new Map<string, { cell: Cell; stamp: string }>();
  /** Records that they have taken away, and when. */
  readonly removed = new Map<string, string>();
  /** Records that they have brought, or written to. */
  readonly there = new Set<string>();

  isThere(record: string): void {
    this.removed.delete(record);
    this.there.add(record);
  }
}

/** What a host itself changes: what it removes is gone for good, and has this in its place where it was somebody. */
export type ForGood = Extract<Draft, { do: 'set' }> | (Extract<Draft, { do: 'remove' }> & { erased: string });
export const forGood = (drafts: readonly ForGood[], stamp: () => string): Change[] =>
  drafts.map((d) => ({
    ...d,
    id: newId('x'),
    stamp: stamp(),
    owner: true as const,
  }));

/** A change with who made it, as the host knows. What only hosts say is taken from no device. */
export function madeBy(change: Change, { kind, run }: Who, author: string | null): Change {
  const { sent: _sent, author: _author, owner: _owner, run: _run, ...rest } = change;
  if (rest.do === 'remove') delete rest.erased;
  if (rest.do === 'set') delete rest.amounts;
  if (kind !== 'owner') delete rest.brought;
  if (run) return { ...rest, run };
  if (author !== null) return { ...rest, author };
  return kind === 'owner' ? { ...rest, owner: true } : rest;
}

/** Does a change say what was counted? Then it is kept even where nothing comes of it. */
export const isCounted = (c: Change): boolean => c.do === 'set' && c.amounts !== undefined;
