import type { Records } from '../records/store.ts';
import type { Change, RecordState } from '../records/change.ts';

/** True for a record that was removed and not brought back since. */
export const isRemoved = (s: RecordState): boolean =>
  s.removed !== undefined && (s.restored === undefined || s.restored < s.removed);

/** Every stamp of a record. */
export const stampsOf = (s: RecordState): string[] => [
  s.stamp,
  ...Object.values(s.stamps ?? {}),
  ...(s.removed ? [s.removed] : []),
  ...(s.restored ? [s.restored] : []),
];

const stampOf = (s: RecordState, field: string): string => (field in s.cells ? (s.stamps?.[field] ?? s.stamp) : '');

/**
 * The records of an app with the stamps they merge by: per cell the latest stamp wins, a removed record stays
 * removed unless it is brought back on purpose. Changes may come in any order and more than once.
 */
export class Replica {
  private readonly states = new Map<string, RecordState>();
  constructor(readonly records: Records) {}

  state(id: string): RecordState | undefined {
    return this.states.get(id);
  }

  all(): IterableIterator<RecordState> {
    return this.states.values();
  }

  get size(): number {
    return this.states.size;
  }

  /** Puts in records as they were kept, at the start. */
  load(states: Iterable<RecordState>): void {
    const live = new Map<string, RecordState[]>();
    for (const s of states) {
      this.states.set(s.id, s);
      if (isRemoved(s)) continue;
      const list = live.get(s.table);
      if (list) list.push(s);
      else live.set(s.table, [s]);
    }
    // Records stand in the order they were made, whatever order they were kept in.
    for (const [table, list] of live)
      this.records.load(
        table,
        list.sort((a, b) => (a.stamp < b.stamp ? -1 : 1)),
      );
  }

  /** Merges one change. Gives back the part of it that was new, or null when nothing was. */
  apply(change: Change): Change | null {
    const known = this.states.get(change.record);
    if (!known) {
      const state: RecordState = {
        table: change.table,
        id: change.record,
        stamp: change.stamp,
        cells: change.do === 'set' ? { ...change.cells } : {},
        ...(change.do === 'remove' && { removed: change.stamp }),
        ...(change.do === 'restore' && { restored: change.stamp }),
      };
      this.states.set(change.record, state);
      if (!isRemoved(state)) this.records.set(change.table, change.record, state.cells);
      return change;
    }
    if (known.table !== change.table) return null;
    if (change.do !== 'set') {
      const key = change.do === 'remove' ? 'removed' : 'restored';
      if ((known[key] ?? '') >= change.stamp) return null;
      known[key] = change.stamp;
      this.show(known);
      return change;
    }
    const won: typeof change.cells = {};
    for (const [field, cell] of Object.entries(change.cells)) {
      if (stampOf(known, field) < change.stamp) won[field] = cell;
    }
    if (Object.keys(won).length === 0) return null;
    this.put(known, won, () => change.stamp);
    return { ...change, cells: won };
  }

  /** Merges a whole state from elsewhere, cell by cell. Gives true when anything was new. */
  merge(state: RecordState): boolean {
    const known = this.states.get(state.id);
    if (!known) {
      this.states.set(state.id, { ...state, cells: { ...state.cells } });
      if (!isRemoved(state)) this.records.set(state.table, state.id, this.states.get(state.id)!.cells);
      return true;
    }
    const won: RecordState['cells'] = {};
    for (const [field, cell] of Object.entries(state.cells))
      if (stampOf(known, field) < stampOf(state, field)) won[field] = cell;
    const removed = (state.removed ?? '') > (known.removed ?? '');
    const restored = (state.restored ?? '') > (known.restored ?? '');
    if (removed) known.removed = state.removed;
    if (restored) known.restored = state.restored;
    if (Object.keys(won).length) this.put(known, won, (f) => stampOf(state, f));
    if (removed || restored) this.show(known);
    return removed || restored || Object.keys(won).length > 0;
  }

  /** Replaces what is known of a record by what the host says; undefined when the host has never heard of it. */
  replace(table: string, id: string, state: RecordState | null): void {
    this.records.remove(table, id);
    this.states.delete(id);
    if (state) this.merge(state);
  }

  private put(known: RecordState, cells: RecordState['cells'], stamp: (field: string) => string): void {
    known.stamps ??= {};
    for (const field of Object.keys(cells)) known.stamps[field] = stamp(field);
    const row = this.records.row(known.table, known.id);
    if (row) this.records.set(known.table, known.id, cells);
    // A cell that is emptied before it was ever filled is no news to the records, but its stamp must be found here.
    Object.assign(known.cells, cells);
    if (!row) this.show(known);
  }

  private show(state: RecordState): void {
    const there = this.records.row(state.table, state.id) !== undefined;
    if (isRemoved(state) && there) this.records.remove(state.table, state.id);
    else if (!isRemoved(state) && !there) this.records.set(state.table, state.id, state.cells);
  }
}
