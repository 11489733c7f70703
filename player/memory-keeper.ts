import type { Change, RecordState } from '../core/records/change.ts';
import type { KeptRun } from '../core/routines/run.ts';
import type { Outgoing } from '../core/session/effects.ts';
import type { Drafts } from '../core/phone/walk.ts';
import type { Keeper } from './keeper.ts';

/** Keeps what an app needs to go on until its page is closed, where a device can keep nothing longer. */
export class MemoryKeeper implements Keeper {
  private readonly values = new Map<string, unknown>();
  private readonly files = new Map<string, Blob>();
  private readonly runs = new Map<string, KeptRun>();
  private readonly mails = new Map<string, Outgoing>();

  async get<T>(key: string): Promise<T | undefined> {
    return this.values.get(key) as T | undefined;
  }
  async put(key: string, value: unknown): Promise<void> {
    this.values.set(key, value);
  }
  // Records and what waits to be sent are in memory already.
  async save(): Promise<void> {}
  async allStates(): Promise<RecordState[]> {
    return [];
  }
  async queued(): Promise<Change[]> {
    return [];
  }
  private kept: Drafts = {};
  async drafts(): Promise<Drafts> {
    return this.kept;
  }
  async keepDraft(form: string, changed: Drafts[string] | null): Promise<void> {
    const { [form]: _before, ...others } = this.kept;
    this.kept = changed ? { ...others, [form]: changed } : others;
  }
  async file(hash: string): Promise<Blob | null> {
    return this.files.get(hash) ?? null;
  }
  async keepFile(hash: string, content: Blob): Promise<void> {
    this.files.set(hash, content);
  }
  async forgetFiles(): Promise<void> {}
  async keepRun(id: string, run: KeptRun | null): Promise<void> {
    if (run) this.runs.set(id, run);
    else this.runs.delete(id);
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
