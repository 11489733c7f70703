import type { DeviceStore } from '../host/link.ts';
import type { Kept, PhoneStore } from '../phone/phone.ts';
import type { FileStore } from '../phone/files.ts';
import type { Drafts } from '../phone/walk.ts';
import type { Change, RecordState } from '../records/change.ts';

/** A phone's store in memory. It outlives the phone, which can be opened again from it. */
export class MemoryStore implements PhoneStore, FileStore {
  readonly states = new Map<string, RecordState>();
  readonly queue = new Map<string, Change>();
  readonly files = new Map<string, Blob>();
  readonly values = new Map<string, unknown>();
  /** Why nothing can be kept; null while it can. */
  broken: Error | null = null;

  async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    if (this.broken) throw this.broken;
    for (const id of u.gone ?? []) this.states.delete(id);
    for (const s of u.states ?? []) this.states.set(s.id, structuredClone(s));
    for (const c of u.queued ?? []) this.queue.set(c.id, structuredClone(c));
    for (const id of u.sent ?? []) this.queue.delete(id);
    if (u.at !== undefined) this.values.set('at', u.at);
    if (u.view !== undefined) this.values.set('view', u.view);
  }

  async get<T>(key: string): Promise<T | undefined> {
    return structuredClone(this.values.get(key)) as T | undefined;
  }
  async put(key: string, value: unknown): Promise<void> {
    this.values.set(key, structuredClone(value));
  }
  async allStates(): Promise<RecordState[]> {
    return structuredClone([...this.states.values()]);
  }
  async queued(): Promise<Change[]> {
    return structuredClone([...this.queue.values()]);
  }

  async file(hash: string): Promise<Blob | null> {
    return this.files.get(hash) ?? null;
  }

  async drafts(): Promise<Drafts> {
    return this.kept().drafts ?? {};
  }
  async keepDraft(form: string, changed: Drafts[string] | null): Promise<void> {
    const { [form]: _before, ...others } = await this.drafts();
    this.values.set('drafts', changed ? { ...others, [form]: changed } : others);
  }

  async keepFile(hash: string, content: Blob): Promise<void> {
    this.files.set(hash, content);
  }
  async forgetFiles(used: ReadonlySet<string>): Promise<void> {
    for (const hash of this.files.keys()) if (!used.has(hash)) this.files.delete(hash);
  }

  /** What is kept now, without waiting for it. */
  kept(): Kept {
    const value = <T>(key: string): T | undefined => structuredClone(this.values.get(key)) as T | undefined;
    return {
      states: structuredClone([...this.states.values()]),
      queue: structuredClone([...this.queue.values()]),
      at: value('at'),
      view: value('view'),
      device: value('device'),
      person: value('person'),
      record: value('person record'),
      drafts: value('drafts'),
      begun: value('begun'),
    };
  }
}
