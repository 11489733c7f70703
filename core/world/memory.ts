import type { DeviceStore } from '../host/link.ts';
import type { Kept } from '../phone/keeps.ts';
import { MemoryKeeper } from '../phone/memory-keeper.ts';
import type { Drafts } from '../phone/walk.ts';
import type { Change, RecordState } from '../records/change.ts';

/** A phone's store in memory. It outlives the phone, which can be opened again from it. */
export class MemoryStore extends MemoryKeeper {
  readonly states = new Map<string, RecordState>();
  readonly queue = new Map<string, Change>();
  /** Why nothing can be kept; null while it can. */
  broken: Error | null = null;

  override async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    if (this.broken) throw this.broken;
    for (const id of u.gone ?? []) this.states.delete(id);
    for (const s of u.states ?? []) this.states.set(s.id, structuredClone(s));
    for (const c of u.queued ?? []) this.queue.set(c.id, structuredClone(c));
    for (const id of u.sent ?? []) this.queue.delete(id);
    for (const name of u.wrote ?? []) this.values.set(`wrote:${name}`, true);
    if (u.at !== undefined) this.values.set('at', u.at);
    if (u.view !== undefined) this.values.set('view', u.view);
    if (u.may !== undefined) this.values.set('may', structuredClone(u.may));
  }

  override async get<T>(key: string): Promise<T | undefined> {
    return this.value<T>(key);
  }
  override async put(key: string, value: unknown): Promise<void> {
    this.values.set(key, structuredClone(value));
  }
  override async allStates(): Promise<RecordState[]> {
    return structuredClone([...this.states.values()]);
  }
  override async queued(): Promise<Change[]> {
    return structuredClone([...this.queue.values()]);
  }
  override async keepRun(...[id, run]: Parameters<MemoryKeeper['keepRun']>): Promise<void> {
    if (!run) for (const key of this.values.keys()) if (key.startsWith(`wrote:${id}:`)) this.values.delete(key);
    await super.keepRun(id, structuredClone(run));
  }
  override async drafts(): Promise<Drafts> {
    return structuredClone(await super.drafts());
  }
  private value<T>(key: string): T | undefined {
    return structuredClone(this.values.get(key)) as T | undefined;
  }

  /** What is kept now, without waiting for it. */
  kept(): Kept {
    return {
      states: structuredClone([...this.states.values()]),
      queue: structuredClone([...this.queue.values()]),
      at: this.value('at'),
      view: this.value('view'),
      may: this.value('may'),
      device: this.value('device'),
      ear: this.value('ear'),
      person: this.value('person'),
      record: this.value('person record'),
      drafts: structuredClone(this.typed),
      begun: this.value('begun'),
      heard: this.value('heard'),
      devicesSaid: this.value('told'),
    };
  }
}
