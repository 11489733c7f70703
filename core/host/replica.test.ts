import { describe, expect, it } from 'vitest';
import type { Change, KeptChange, RecordState } from '../records/change.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { cellsBefore, isRemoved, Replica, stampsOf } from './replica.ts';

/** Stamps in the order of their letters. */
const at = (letter: string): string => `2026-${letter}`;
const state = (more: Partial<RecordState> = {}): RecordState => ({
  table: T.hives,
  id: 'h1',
  stamp: at('b'),
  cells: { [F.name]: 'Clover' },
  ...more,
});
const change = (stamp: string, more: Partial<Change> = {}): KeptChange =>
  ({ id: `c${stamp}`, stamp, table: T.hives, record: 'h1', do: 'set', cells: {}, ...more }) as KeptChange;

function open(states: RecordState[] = [], remembers = true) {
  const records = new Records(hiveApp());
  const replica = new Replica(records, remembers);
  replica.load(states);
  return { replica, row: () => records.row(T.hives, 'h1'), ids: () => records.rows(T.hives).map((r) => r.id) };
}

describe('merging a state from elsewhere', () => {
  it('says whether anything was new', () => {
    const { replica, row } = open();
    expect(replica.merge(state())).toBe(true);
    expect(replica.merge(state())).toBe(false);
    expect(replica.merge(state({ stamp: at('a'), cells: { [F.name]: 'Old' } }))).toBe(false);
    expect(row()!.cells[F.name]).toBe('Clover');
    expect(replica.merge(state({ stamp: at('c'), cells: { [F.name]: 'New' } }))).toBe(true);
    expect(row()!.cells[F.name]).toBe('New');
    expect(replica.merge(state({ stamp: at('c'), cells: {}, removed: at('d') }))).toBe(true);
    expect(row()).toBeUndefined();
    expect(replica.merge(state({ stamp: at('c'), cells: {}, removed: at('d') }))).toBe(false);
    expect(replica.merge(state({ stamp: at('c'), cells: {}, removed: at('d'), restored: at('e') }))).toBe(true);
    expect(replica.merge(state({ stamp: at('c'), cells: {}, removed: at('d'), restored: at('e') }))).toBe(false);
    expect(row()).toBeDefined();
  });
  it('keeps of each cell when it was written, so that an older one stays away', () => {
    const { replica, row } = open([state()]);
    replica.merge(state({ stamp: at('a'), stamps: { [F.tag]: at('d') }, cells: { [F.tag]: 'T', [F.name]: 'x' } }));
    replica.apply(change(at('c'), { cells: { [F.tag]: 'older', [F.name]: 'newer' } }));
    expect(row()!.cells).toMatchObject({ [F.tag]: 'T', [F.name]: 'newer' });
  });
  it('shows nothing of a record that comes as removed, and all of one that comes as brought back', () => {
    const gone = open();
    gone.replica.merge(state({ removed: at('c') }));
    expect(gone.ids()).toEqual([]);
    expect(gone.replica.state('h1')!.cells).toEqual({});
    const back = open();
    back.replica.merge(state({ removed: at('c'), restored: at('d') }));
    expect(back.row()!.cells[F.name]).toBe('Clover');
    // What came through the removal is as old as the return.
    back.replica.apply(change(at('c9'), { cells: { [F.name]: 'before the return' } }));
    expect(back.row()!.cells[F.name]).toBe('Clover');
  });
});

describe('records that are loaded', () => {
  it('stand in the order they were made, and removed ones do not', () => {
    const { ids } = open([
      state({ id: 'late', stamp: at('z') }),
      state({ id: 'early', stamp: at('a') }),
      state({ id: 'gone', stamp: at('b'), removed: at('c') }),
      state({ id: 'middle', stamp: at('m') }),
    ]);
    expect(ids()).toEqual(['early', 'middle', 'late']);
  });
});

describe('changes', () => {
  it('for a record of another table are none, and leave everything as it was', () => {
    const { replica, row } = open([state()]);
    const stray = change(at('z'), { table: T.keepers, cells: { [F.name]: 'x' } });
    expect(replica.isNew(stray)).toBe(false);
    expect(replica.apply(stray)).toBeNull();
    expect(row()!.cells).toEqual({ [F.name]: 'Clover' });
  });
  it('that come again are nothing new', () => {
    const { replica } = open([state()]);
    for (const c of [
      change(at('c'), { cells: { [F.name]: 'x' } }),
      change(at('d'), { do: 'remove' } as Partial<Change>),
      change(at('e'), { do: 'restore', cells: { [F.name]: 'x' } } as Partial<Change>),
    ]) {
      expect(replica.apply(c)).not.toBeNull();
      expect(replica.isNew(c)).toBe(false);
      expect(replica.apply(c)).toBeNull();
    }
  });
  it('give back what of them was new', () => {
    const { replica } = open([state({ stamps: { [F.name]: at('m') } })]);
    const given = replica.apply(change(at('c'), { cells: { [F.name]: 'older', [F.tag]: 'new' } }));
    expect(given).toMatchObject({ record: 'h1', do: 'set', stamp: at('c'), cells: { [F.tag]: 'new' } });
    expect(Object.keys((given as { cells: object }).cells)).toEqual([F.tag]);
  });
  it('to a removed record are kept aside for whoever brings it back', () => {
    const { replica, row } = open([state()]);
    replica.apply(change(at('d'), { do: 'remove' } as Partial<Change>));
    replica.apply(change(at('c'), { cells: { [F.tag]: 'T' } }));
    expect(row()).toBeUndefined();
    expect(cellsBefore(replica.state('h1')!)).toEqual({ [F.name]: 'Clover', [F.tag]: 'T' });
    replica.apply(change(at('e'), { do: 'restore', cells: undefined } as Partial<Change>));
    expect(row()!.cells).toEqual({ [F.name]: 'Clover', [F.tag]: 'T' });
    expect(replica.state('h1')!.was).toBeUndefined();
  });
  it('of a record that nobody knew are a record, or the mark of a removed one', () => {
    const { replica, ids } = open();
    replica.apply(change(at('a'), { cells: { [F.name]: 'x' } }));
    expect(ids()).toEqual(['h1']);
    const other = open();
    other.replica.apply(change(at('a'), { do: 'remove', cells: { [F.name]: 'x' } } as unknown as Partial<Change>));
    expect(other.ids()).toEqual([]);
    expect(other.replica.state('h1')).toMatchObject({ cells: {}, removed: at('a') });
  });
});

describe('what removed records had', () => {
  it('is forgotten when nobody may bring it back from here', () => {
    const { replica } = open([state()]);
    replica.apply(change(at('d'), { do: 'remove' } as Partial<Change>));
    expect(replica.state('h1')!.was).toEqual({ [F.name]: ['Clover', at('b')] });
    replica.forgetRemoved();
    expect(replica.state('h1')!.was).toBeUndefined();
    replica.apply(change(at('c'), { cells: { [F.tag]: 'T' } }));
    expect(replica.state('h1')!.was).toBeUndefined();
    const never = open([state()], false);
    never.replica.apply(change(at('d'), { do: 'remove' } as Partial<Change>));
    expect(never.replica.state('h1')!.was).toBeUndefined();
  });
  it('stays here when the host says that it is removed', () => {
    const { replica, row } = open([state()]);
    replica.replace(T.hives, 'h1', state({ cells: {}, removed: at('c') }));
    expect(row()).toBeUndefined();
    expect(cellsBefore(replica.state('h1')!)).toEqual({ [F.name]: 'Clover' });
    replica.replace(T.hives, 'h1', null);
    expect(replica.state('h1')).toBeUndefined();
  });
  it('gives way to what the host says where it is not removed', () => {
    const { replica, row } = open([state()]);
    replica.replace(T.hives, 'h1', state({ stamp: at('a'), cells: { [F.tag]: 'T' } }));
    expect(row()!.cells).toEqual({ [F.tag]: 'T' });
    expect(replica.state('h1')!.was).toBeUndefined();
  });
});

it('a record is removed until it is brought back later, and has all its stamps', () => {
  expect(isRemoved(state())).toBe(false);
  expect(isRemoved(state({ removed: at('c') }))).toBe(true);
  expect(isRemoved(state({ removed: at('c'), restored: at('b') }))).toBe(true);
  expect(isRemoved(state({ removed: at('c'), restored: at('c') }))).toBe(false);
  expect(isRemoved(state({ removed: at('c'), restored: at('d') }))).toBe(false);
  expect(stampsOf(state({ stamps: { [F.tag]: at('x') }, removed: at('c'), restored: at('d') }))).toEqual([
    at('b'),
    at('x'),
    at('c'),
    at('d'),
  ]);
});
