import type { Records } from '../records/store.ts';
import type { Change, KeptChange, RecordState } from '../records/change.ts';
import { raised } from '../records/raise.ts';

/** True for a record that was removed and not brought back since. */
export const isRemoved = (s: RecordState): boolean =>
  s.removed !== undefined && (s.restored === undefined || s.restored < s.removed);

/** Does an amount make its record? It makes one that was never there, or was removed before the amount was added. */
export const makesRecord = (
  { makes, stamp }: Pick<Extract<Change, { do: 'raise' }>, 'makes' | 'stamp'>,
  known: RecordState | undefined,
): boolean => makes !== undefined && (!known || (isRemoved(known) && known.removed! < stamp));

/** Every stamp of a record. */
export const stampsOf = (s: RecordState): string[] => [
  s.stamp,
  ...Object.values(s.stamps ?? {}),
  ...(s.removed ? [s.removed] : []),
  ...(s.restored ? [s.restored] : []),
];

/** When a cell was written last; removing a record writes all of its cells. */
export const stampOf = (s: RecordState, field: string): string =>
  field in s.cells ? (s.stamps?.[field] ?? s.stamp) : (s.removed ?? '');

/**
 * The records of an app with the stamps they merge by: per cell the latest stamp wins, a removed record stays
 * removed unless it is brought back on purpose, and leaves a marker without the cells it had. Changes may come in any
 * order and more than once.
 */
export class Replica {
  private readonly states = new Map<string, RecordState>();
  constructor(
    readonly records: Records,
    /** Removed records keep their cells aside, so that they can be brought back from here. */
    public remembers = true,
  ) {}

  /** Lets go of what removed records had, now and from now on. */
  forgetRemoved(): void {
    this.remembers = false;
    for (const s of this.states.values()) delete s.was;
  }

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
      if (isRemoved(s)) {
        this.clear(s);
        continue;
      }
      lift(s);
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

  /** Would merging the change alter anything? */
  isNew(change: KeptChange): boolean {
    const s = this.states.get(change.record);
    if (!s) return true;
    if (s.table !== change.table) return false;
    if (s.erased !== undefined) return false;
    if (change.do === 'remove') return change.erased !== undefined || (s.removed ?? '') < change.stamp;
    if (change.do === 'restore' && (s.restored ?? '') < change.stamp) return true;
    return Object.keys(change.cells ?? {}).some((f) => stampOf(s, f) < change.stamp);
  }

  /** Merges one change. Gives back the part of it that was new, or null when nothing was. */
  apply(change: Change): Change | null {
    const known = this.states.get(change.record);
    if (change.do === 'raise') return this.raise(known, change);
    if (!known) {
      const state: RecordState = {
        table: change.table,
        id: change.record,
        stamp: change.stamp,
        cells: change.do === 'remove' ? {} : { ...change.cells },
        ...(change.do === 'remove' && { removed: change.stamp }),
        ...(change.do === 'restore' && { restored: change.stamp }),
        ...('erased' in change && { erased: change.erased }),
      };
      this.states.set(change.record, state);
      if (!isRemoved(state)) this.records.set(change.table, change.record, state.cells);
      return change;
    }
    if (!this.isNew(change)) {
      if (change.do === 'set' && known.table === change.table) this.keepAside(known, change.cells, () => change.stamp);
      return null;
    }
    if (change.do === 'remove') {
      if (change.erased !== undefined) return this.erase(known, change.stamp, change.erased) && change;
      known.removed = change.stamp;
      // One that was brought back later stays, with what was written since.
      this.clear(known);
      this.show(known);
      return change;
    }
    // From before what is brought back came with its cells: they are what it had here.
    const given = change.cells ?? cellsBefore(known);
    const won: RecordState['cells'] = {};
    for (const [field, cell] of Object.entries(given)) if (stampOf(known, field) < change.stamp) won[field] = cell;
    if (change.do === 'restore' && (known.restored ?? '') < change.stamp) known.restored = change.stamp;
    this.put(known, won, () => change.stamp);
    return { ...change, cells: won };
  }

  /** Nothing stays of it but that it is gone. */
  private erase({ table, id, stamp }: RecordState, removed: string, erased: string): true {
    this.records.remove(table, id);
    this.states.set(id, { table, id, stamp, cells: {}, removed, erased });
    return true;
  }

  /**
   * Adds the amounts of this device to cells until the host says what came of them. They have no part in the stamps, so
   * that whatever the host says next of these cells is newer.
   */
  private raise(before: RecordState | undefined, change: Extract<Change, { do: 'raise' }>): Change | null {
    if (makesRecord(change, before))
      this.apply({ ...change, do: before ? 'restore' : 'set', cells: change.makes } as Change);
    const known = this.states.get(change.record);
    if (!known || isRemoved(known) || known.table !== change.table) return null;
    const cells: RecordState['cells'] = {};
    for (const [field, by] of Object.entries(change.by)) {
      known.under = { [field]: known.cells[field] ?? null, ...known.under };
      cells[field] = raised(known.cells[field], by);
    }
    this.show(known);
    this.write(known, cells);
    return change;
  }

  /**
   * Amounts that {@link apply} has added are the host's from now on. Those to fields of `without` came to nothing, since
   * the field was set later: they are taken off again.
   */
  settled({ record, by }: Extract<Change, { do: 'raise' }>, without: readonly string[] = []): void {
    const known = this.states.get(record);
    if (!known?.under) return;
    for (const [field, n] of Object.entries(by)) {
      if (!(field in known.under)) continue;
      if (without.includes(field)) this.write(known, { [field]: raised(known.cells[field], -n) });
      else known.under[field] = raised(known.under[field], n);
    }
    this.dropUnder(known);
  }

  /** Merges what the host says: amounts of this device that wait to be sent stay on top of it. */
  hear(change: Change): Change | null {
    return this.keepingAmounts(change.record, () => this.apply(change));
  }

  /** The same for a whole state from the host. Gives true when anything was new. */
  hearState(state: RecordState): boolean {
    return this.keepingAmounts(state.id, () => this.merge(state));
  }

  private keepingAmounts<T>(record: string, work: () => T): T {
    const known = this.states.get(record);
    const { under } = known ?? {};
    if (!known || !under) return work();
    return this.records.batch(() => {
      const waiting = Object.entries(under).map(
        ([field, cell]) => [field, raised(known.cells[field], -Number(cell ?? 0))] as const,
      );
      // Beneath the amounts that wait the cells are as the host knows them.
      this.write(known, under);
      const done = work();
      const now = this.states.get(record);
      if (now && !isRemoved(now)) {
        now.under = Object.fromEntries(waiting.map(([field]) => [field, now.cells[field] ?? null]));
        this.write(now, Object.fromEntries(waiting.map(([field, by]) => [field, raised(now.cells[field], by)])));
        this.dropUnder(now);
      }
      return done;
    });
  }

  /** Puts cells in a record without a part in how it merges. */
  private write(s: RecordState, cells: RecordState['cells']): void {
    if (this.records.row(s.table, s.id)) this.records.set(s.table, s.id, cells);
    Object.assign(s.cells, cells);
  }

  private dropUnder(s: RecordState): void {
    for (const [field, under] of Object.entries(s.under ?? {}))
      if (Number(under ?? 0) === Number(s.cells[field] ?? 0)) delete s.under![field];
    if (s.under && Object.keys(s.under).length === 0) delete s.under;
  }

  /** Merges a whole state from elsewhere, cell by cell. Gives true when anything was new. */
  merge(state: RecordState): boolean {
    const known = this.states.get(state.id);
    if (!known) {
      const fresh = structuredClone(state);
      this.states.set(state.id, fresh);
      if (isRemoved(fresh)) this.clear(fresh);
      else lift(fresh);
      this.show(fresh);
      return true;
    }
    if (known.erased !== undefined) return false;
    if (state.erased !== undefined) return this.erase(known, state.removed!, state.erased);
    const removed = (state.removed ?? '') > (known.removed ?? '');
    if (removed) {
      known.removed = state.removed;
      this.clear(known);
    }
    const won: RecordState['cells'] = {};
    for (const [field, cell] of Object.entries(state.cells))
      if (stampOf(known, field) < stampOf(state, field)) won[field] = cell;
    const restored = (state.restored ?? '') > (known.restored ?? '');
    if (restored) known.restored = state.restored;
    if (removed || restored || Object.keys(won).length) this.put(known, won, (f) => stampOf(state, f));
    return removed || restored || Object.keys(won).length > 0;
  }

  /**
   * Replaces what is known of a record by what the host says; null when the host has never heard of it. What it had is kept
   * aside where it was removed there, unless it may not be known any more; so are values that the host had worked out.
   */
  replace(table: string, id: string, state: RecordState | null, keepsAside = true): void {
    const known = this.states.get(id);
    this.records.remove(table, id);
    this.states.delete(id);
    if (!state) return;
    this.merge(keepsAside && known?.told && !state.told ? { ...state, told: known.told } : state);
    const now = this.states.get(id)!;
    // What is removed on the host has no cells there, and can be brought back only from here.
    if (!this.remembers || !keepsAside || !known || !isRemoved(now)) return;
    now.was = { ...known.was };
    this.keepAside(now, known.cells, (f) => stampOf(known, f));
  }

  private put(known: RecordState, cells: RecordState['cells'], stamp: (field: string) => string): void {
    known.stamps ??= {};
    for (const field of Object.keys(cells)) known.stamps[field] = stamp(field);
    const row = this.records.row(known.table, known.id);
    if (row) this.records.set(known.table, known.id, cells);
    // A cell that is emptied before it was ever filled is no news to the records, but its stamp must be found here.
    Object.assign(known.cells, cells);
    // What is set here is set over the amounts that wait.
    for (const field of Object.keys(cells)) delete known.under?.[field];
    this.dropUnder(known);
    if (!isRemoved(known)) delete known.was;
    this.show(known);
  }

  /** Takes out of a state the cells that were removed with its record; to be followed by {@link show}. */
  private clear(s: RecordState): void {
    if (s.removed === undefined) return;
    const gone: RecordState['cells'] = {};
    for (const [field, cell] of Object.entries(s.cells)) if (stampOf(s, field) < s.removed) gone[field] = cell;
    this.keepAside(s, gone, (f) => stampOf(s, f));
    if (Object.keys(gone).length === 0) return;
    // Its row has the same cells, and indexes that go by them.
    if (this.records.row(s.table, s.id)) this.records.remove(s.table, s.id);
    for (const field of Object.keys(gone)) {
      delete s.cells[field];
      delete s.stamps?.[field];
    }
  }

  private keepAside(s: RecordState, cells: RecordState['cells'], stamp: (field: string) => string): void {
    if (!this.remembers || !isRemoved(s)) return;
    for (const [field, cell] of Object.entries(cells)) {
      if ((s.was?.[field]?.[1] ?? '') >= stamp(field)) continue;
      s.was ??= {};
      s.was[field] = [cell, stamp(field)];
    }
  }

  private show(state: RecordState): void {
    const there = this.records.row(state.table, state.id) !== undefined;
    if (isRemoved(state) && there) this.records.remove(state.table, state.id);
    else if (!isRemoved(state) && !there) {
      this.records.set(state.table, state.id, state.cells);
      if (state.told || state.hidden) this.records.tell(state.table, state.id, state);
    }
  }
}

/** Cells that were kept through a removal, from before removing took them: they are as old as their record’s return. */
function lift(s: RecordState): void {
  if (s.removed === undefined || s.restored === undefined) return;
  for (const field of Object.keys(s.cells))
    if (stampOf(s, field) < s.removed) s.stamps = { ...s.stamps, [field]: s.restored };
}

/** What a removed record had, with what was written to it afterwards. */
export const cellsBefore = (s: RecordState): RecordState['cells'] => ({
  ...Object.fromEntries(Object.entries(s.was ?? {}).map(([field, [cell]]) => [field, cell])),
  ...s.cells,
});
