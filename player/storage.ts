import { Dexie, type EntityTable } from 'dexie';
import type { Change, RecordState } from '../core/host/change.ts';
import type { DeviceStore } from '../core/host/device.ts';
import type { Outgoing } from '../core/session/session.ts';

interface Meta {
  key: string;
  value: unknown;
}

/** The browser's store is full, or storing is switched off. */
export class StorageError extends Error {
  override name = 'StorageError';
}

/** What a device keeps of one app: records with their stamps, changes and mails not yet sent, and where it stands. */
export class DeviceDb extends Dexie implements DeviceStore {
  readonly states!: EntityTable<RecordState, 'id'>;
  readonly queue!: EntityTable<Change & { order?: number }, 'order'>;
  readonly outbox!: EntityTable<Outgoing & { at: string; sent: 0 | 1; eml?: string }, 'id'>;
  readonly meta!: EntityTable<Meta, 'key'>;

  constructor(name: string) {
    super(name);
    this.version(1).stores({ states: 'id', queue: '++order,id', outbox: 'id,sent,at', meta: 'key' });
  }

  async get<T>(key: string): Promise<T | undefined> {
    return (await this.meta.get(key))?.value as T | undefined;
  }
  async put(key: string, value: unknown): Promise<void> {
    await told(this.meta.put({ key, value }));
  }

  async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    await told(
      this.transaction('rw', this.states, this.queue, this.meta, async () => {
        if (u.gone?.length) await this.states.bulkDelete(u.gone);
        if (u.states?.length) await this.states.bulkPut(u.states);
        if (u.queued?.length) await this.queue.bulkAdd(u.queued.map((c) => ({ ...c })));
        if (u.sent?.length) await this.queue.where('id').anyOf(u.sent).delete();
        if (u.at !== undefined) await this.meta.put({ key: 'at', value: u.at });
      }),
    );
  }

  async queued(): Promise<Change[]> {
    return (await this.queue.orderBy('order').toArray()).map(({ order: _order, ...c }) => c as Change);
  }
}

/** Turns the browser's storage errors into words. */
async function told<T>(work: PromiseLike<T>): Promise<T> {
  try {
    return await work;
  } catch (e) {
    const inner = (e as { inner?: Error }).inner ?? (e as Error);
    if (inner.name === 'QuotaExceededError' || (e as Error).name === 'QuotaExceededError') {
      throw new StorageError(
        'This device’s storage for the app is full, so the last change is not kept. Free some space, then try again.',
      );
    }
    throw e;
  }
}
