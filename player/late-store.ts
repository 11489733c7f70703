import type { Change, RecordState } from '../core/records/change.ts';
import type { DeviceStore } from '../core/host/link.ts';
import type { Outgoing } from '../core/session/effects.ts';
import type { DeviceDb } from './storage.ts';

/**
 * What a device keeps, behind a package that comes when it is needed: on a first visit there is nothing to read, so
 * the first screen is not kept waiting for it.
 */
export class LateStore implements DeviceStore {
  private db: Promise<DeviceDb> | null = null;
  constructor(private readonly name: string) {}

  private open(): Promise<DeviceDb> {
    this.db ??= import('./storage.ts').then((m) => new m.DeviceDb(this.name));
    return this.db;
  }

  /** Is anything kept here? A browser that does not say is believed to keep something. */
  async isThere(): Promise<boolean> {
    if (!indexedDB.databases) return true;
    try {
      return (await indexedDB.databases()).some((d) => d.name === this.name);
    } catch {
      return true;
    }
  }

  async get<T>(key: string): Promise<T | undefined> {
    return (await this.open()).get<T>(key);
  }
  async put(key: string, value: unknown): Promise<void> {
    await (await this.open()).put(key, value);
  }
  async save(update: Parameters<DeviceStore['save']>[0]): Promise<void> {
    await (await this.open()).save(update);
  }
  async allStates(): Promise<RecordState[]> {
    return (await this.open()).allStates();
  }
  async queued(): Promise<Change[]> {
    return (await this.open()).queued();
  }
  async file(hash: string): Promise<Blob | null> {
    return (await this.open()).file(hash);
  }
  async keepFile(hash: string, content: Blob): Promise<void> {
    await (await this.open()).keepFile(hash, content);
  }
  async forgetFiles(used: ReadonlySet<string>, before: number): Promise<void> {
    await (await this.open()).forgetFiles(used, before);
  }
  /** Everything that is kept, for what is only asked after the first screen. */
  whole(): Promise<DeviceDb> {
    return this.open();
  }
  /** What the runs that are kept here hold, to find the files among it. */
  async inRuns(): Promise<unknown> {
    return (await this.open()).inRuns();
  }
  async queueMail(m: Outgoing): Promise<void> {
    await (await this.open()).queueMail(m);
  }
  async unsentMail(): Promise<Outgoing[]> {
    // Before anything was kept there is no mail either.
    return this.db ? (await this.db).unsentMail() : [];
  }
  async mailSent(id: string): Promise<void> {
    await (await this.open()).outbox.delete(id);
  }
}
