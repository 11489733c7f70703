import type { PhoneStore } from '../core/phone/phone.ts';
import type { Outgoing } from '../core/session/effects.ts';
import type { RunStore } from './kept-runs.ts';

/** What a device keeps of one app, wherever it keeps it. */
export interface Keeper extends PhoneStore, RunStore {
  file(hash: string): Promise<Blob | null>;
  keepFile(hash: string, content: Blob): Promise<void>;
  /** Forgets files that came before a time and are not among the used ones. */
  forgetFiles(used: ReadonlySet<string>, before: number): Promise<void>;
  /** What all runs that are kept hold, to find the files among it. */
  inRuns(): Promise<unknown>;
  queueMail(m: Outgoing): Promise<void>;
  unsentMail(): Promise<Outgoing[]>;
  mailSent(id: string): Promise<void>;
}
