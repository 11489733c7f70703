import type { DeviceStore } from '../host/link.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { KeptRun } from '../routines/run.ts';
import type { Outgoing } from '../session/effects.ts';
import type { PhoneStore, WholeStore } from './keeps.ts';
import type { Drafts } from './walk.ts';

/** Keeps what an app needs to go on until its page is closed, where a device can keep nothing longer. */
export class MemoryKeeper implements PhoneStore, WholeStore {
  readonly values = new Map<string, unknown>();
  readonly files = new Map<string, Blob>();
  /** When each was kept. */
  private readonly filesAt = new Map<string, number>();
  readonly runs = new Map<string, KeptRun>();
  readonly mails = new Map<string, Outgoing>();

  async get<T>(key: string): Promise<T | undefined> {
    return this.values.get(key) as T | undefined;
  }
  async put(key: string, value: unknown): Promise<void> {
    this.values.set(key, value);
  }
  // Records and what waits to be sent are in memory already.
  async save(_update: Parameters<DeviceStore['save']>[0]): Promise<void> {}
  async allStates(): Promise<RecordState[]> {
    return [];
  }
  async queued(): Promise<Change[]> {
    return [];
  }
  /** What was typed and is not saved. */
  protected typed: Drafts = {};
  async drafts(): Promise<Drafts> {
    return this.typed;
  }
  async keepDraft(form: string, changed: Drafts[string] | null): Promise<void> {
    const { [form]: _before, ...others } = this.typed;
    this.typed = changed ? { ...others, [form]: changed } : others;
  }
  async file(hash: string): Promise<Blob | null> {
    return this.files.get(hash) ?? null;
  }
  async keepFile(hash: string, content: Blob): Promise<void> {
    this.files.set(hash, content);
    this.filesAt.set(hash, Date.now());
  }
  async forgetFiles(used: ReadonlySet<string>, before: number): Promise<void> {
    for (const [hash, at] of this.filesAt) {
      if (used.has(hash) || at >= before) continue;
      this.files.delete(hash);
      this.filesAt.delete(hash);
    }
  }
  async keepRun(id: string, run: KeptRun | null): Promise<void> {
    if (run) this.runs.set(id, run);
    else this.runs.delete(id);
  }
  async onlyWaiting(stays: ReadonlySet<string>): Promise<void> {
    for (const key of this.values.keys()) if (!stays.has(key)) this.values.delete(key);
    this.typed = {};
    this.runs.clear();
  }
  async runIds(): Promise<string[]> {
    return [...this.runs.keys()];
  }
  async keptRun(id: string): Promise<KeptRun | null> {
    return this.runs.get(id) ?? null;
  }
  async inRuns(): Promise<unknown> {
    return [...this.runs.values()];
  }
  async queueMail(m: Outgoing): Promise<void> {
    this.mails.set(m.id, m);
  }
  async unsentMail(): Promise<Outgoing[]> {
    return [...this.mails.values()];
  }
  async mailSent(id: string): Promise<void> {
    this.mails.delete(id);
  }
}
