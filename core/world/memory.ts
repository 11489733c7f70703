import type { LogPort } from '../host/host.ts';
import type { DeviceStore } from '../host/link.ts';
import type { Change, RecordState } from '../records/change.ts';

/** A host's log in memory, which can be made to fail. */
export class MemoryLog implements LogPort {
  readonly kept: Change[] = [];
  fail = false;

  async append(changes: readonly Change[]): Promise<void> {
    if (this.fail) throw new Error('disk full');
    this.kept.push(...changes);
  }
}

/** A phone's store in memory. It outlives the phone, which can be opened again from it. */
export class MemoryStore implements DeviceStore {
  readonly states = new Map<string, RecordState>();
  readonly queue = new Map<string, Change>();
  readonly files = new Map<string, Blob>();
  readonly values = new Map<string, unknown>();
  at = 0;
  view: string | undefined;
  /** Why nothing can be kept; null while it can. */
  broken: Error | null = null;

  async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    if (this.broken) throw this.broken;
    for (const id of u.gone ?? []) this.states.delete(id);
    for (const s of u.states ?? []) this.states.set(s.id, structuredClone(s));
    for (const c of u.queued ?? []) this.queue.set(c.id, structuredClone(c));
    for (const id of u.sent ?? []) this.queue.delete(id);
    if (u.at !== undefined) this.at = u.at;
    if (u.view !== undefined) this.view = u.view;
  }

  async file(hash: string): Promise<Blob | null> {
    return this.files.get(hash) ?? null;
  }
}
