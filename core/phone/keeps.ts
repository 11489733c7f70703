import type { PhoneRules } from '../access/phone-rules.ts';
import type { DeviceStore } from '../host/link.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { Outgoing } from '../session/effects.ts';
import type { PersonRecord } from './api.ts';
import type { FileStore } from './files.ts';
import type { RunStore } from './kept-runs.ts';
import type { Drafts } from './walk.ts';

/** What a phone keeps for itself. */
export interface PhoneStore extends DeviceStore {
  get<T>(key: string): Promise<T | undefined>;
  put(key: string, value: unknown): Promise<void>;
  allStates(): Promise<RecordState[]>;
  queued(): Promise<Change[]>;
  /** What was typed into forms and is not saved. */
  drafts(): Promise<Drafts>;
  /** Keeps what a form has; null for nothing. Other pages of the same app keep what is typed in others. */
  keepDraft(form: string, changed: Drafts[string] | null): Promise<void>;
}

/** Where messages wait until the host has them. */
export interface MailStore {
  queueMail(m: Outgoing): Promise<void>;
  unsentMail(): Promise<Outgoing[]>;
  mailSent(id: string): Promise<void>;
}

/** What a phone keeps besides, which its first screen does not need: files, runs that wait, messages. */
export interface WholeStore extends FileStore, RunStore, MailStore {
  /** What all runs that are kept hold, to find the files among it. */
  inRuns(): Promise<unknown>;
  /** Lets go of all but what waits to be sent, and the values of these names. */
  onlyWaiting(stays: ReadonlySet<string>): Promise<void>;
}

/** What is here of an app when it is opened. */
export interface Kept {
  states: RecordState[];
  queue: Change[];
  at?: number | undefined;
  view?: string | undefined;
  /** What its person may do, as they were told last; null where that is everything. */
  may?: PhoneRules | null | undefined;
  /** The name of the device, which it keeps from one opening to the next. */
  device?: string | undefined;
  /** The secret by which the host knows the device again when it listens for somebody. */
  ear?: string | undefined;
  /** The name of this opening; made up where there is none. */
  run?: string | undefined;
  person?: string | null | undefined;
  record?: PersonRecord | null | undefined;
  drafts?: Drafts | undefined;
  /** The app was begun here before. */
  begun?: boolean | undefined;
  /** When the last notice came, as the host's clock had it (ISO 8601). */
  heard?: string | undefined;
  /** What was said last of devices that are used by the same person. */
  devicesSaid?: string | undefined;
}

/** All that a phone kept of an app. */
export async function keptIn(store: PhoneStore): Promise<Kept> {
  const text = (key: string): Promise<string | undefined> => store.get<string>(key);
  const [states, queue, at, view, may, device, ear, person, record, drafts, begun, heard, devicesSaid] =
    await Promise.all([
      store.allStates(),
      store.queued(),
      store.get<number>('at'),
      text('view'),
      store.get<PhoneRules | null>('may'),
      text('device'),
      text('ear'),
      store.get<string | null>('person'),
      store.get<PersonRecord | null>('person record'),
      store.drafts(),
      store.get<boolean>('begun'),
      text('heard'),
      text('told'),
    ]);
  return { states, queue, at, view, may, device, ear, person, record, drafts, begun, heard, devicesSaid };
}
