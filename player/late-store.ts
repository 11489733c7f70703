import type { Change, RecordState } from '../core/records/change.ts';
import type { DeviceStore } from '../core/host/link.ts';
import type { PhoneStore } from '../core/phone/keeps.ts';
import type { Keeper } from './keeper.ts';

/**
 * What a device keeps, behind a package that comes when it is needed: on a first visit there is nothing to read, so
 * the first screen is not kept waiting for it.
 */
export class LateStore implements PhoneStore {
  private db: Promise<Keeper> | null = null;
  private inMemory = false;
  /** Hears once in words that nothing can be kept on this device. */
  onBroken: (why: string) => void = () => {};

  constructor(private readonly name: string) {}

  /** The store; memory in its place where the browser has none, forbids it, or it does not open. */
  private open(): Promise<Keeper> {
    if (!this.db) {
      const db = import('./storage.ts').then((m) => m.openDevice(this.name, (why) => this.broken(why)));
      // A package that could not be fetched is fetched when it is needed the next time.
      db.catch(() => (this.db = null));
      this.db = db;
    }
    return this.db;
  }

  private broken(why: string): void {
    if (!this.inMemory) this.onBroken(why);
    this.inMemory = true;
  }

  /** Is anything kept here? A browser that does not say is believed to keep something. */
  async isThere(): Promise<boolean> {
    if (!globalThis.indexedDB) return false;
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
  /** Keeps a value; where that cannot be, it is said, and nothing stops. */
  put(key: string, value: unknown): Promise<void> {
    return this.try((s) => s.put(key, value));
  }
  drafts: Keeper['drafts'] = async () => (await this.open()).drafts();
  keepDraft: Keeper['keepDraft'] = (...draft) => this.try((s) => s.keepDraft(...draft));
  private async try(work: (store: Keeper) => Promise<void>): Promise<void> {
    try {
      await work(await this.open());
    } catch (e) {
      this.broken((e as Error).message);
    }
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
  /** Lets go of everything that is kept here; what is kept afterwards is gone with the page. */
  async erase(): Promise<void> {
    const store = await this.open();
    const { MemoryKeeper } = await import('../core/phone/memory-keeper.ts');
    this.db = Promise.resolve(new MemoryKeeper());
    await (store as { delete?(): Promise<void> }).delete?.();
  }

  /** Everything that is kept, for what is only asked after the first screen. */
  whole(): Promise<Keeper> {
    return this.open();
  }
  /** Has anything been read or kept here? */
  get isOpen(): boolean {
    return this.db !== null;
  }
}
