import { T } from '../records/fixture.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { DeviceStore } from './link.ts';

/** A log that remembers, and can be made to fail. */
export function memoryLog() {
  const kept: Change[] = [];
  return {
    kept,
    fail: false,
    async append(changes: readonly Change[]) {
      if (this.fail) throw new Error('disk full');
      kept.push(...changes);
    },
  };
}

/** A device's store in memory, to start the device again from. */
export function memoryStore() {
  const states = new Map<string, RecordState>();
  const queue = new Map<string, Change>();
  const kept: { at: number; view?: string } = { at: 0 };
  const store: DeviceStore = {
    async save(u) {
      for (const id of u.gone ?? []) states.delete(id);
      for (const s of u.states ?? []) states.set(s.id, structuredClone(s));
      for (const c of u.queued ?? []) queue.set(c.id, structuredClone(c));
      for (const id of u.sent ?? []) queue.delete(id);
      if (u.at !== undefined) kept.at = u.at;
      if (u.view !== undefined) kept.view = u.view;
    },
  };
  return { store, states, queue, kept };
}

/** All records by table and id, to compare. */
export const contents = (r: Records): unknown =>
  Object.fromEntries(
    [T.hives, T.visits, T.keepers].map((t) => [
      t,
      Object.fromEntries(r.rows(t).map((row) => [row.id, Object.fromEntries(Object.entries(row.cells).sort())])),
    ]),
  );
