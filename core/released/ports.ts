import type { AccessTo } from '../access/access.ts';
import type { TextPort } from '../document/kept-text.ts';
import type { Clock } from '../document/time.ts';
import type { Host, HostSnapshot, LogPort } from '../host/host.ts';
import type { News } from '../host/protocol.ts';
import type { Watch } from '../host/watch.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { CameBack, Outgoing } from '../services/answer.ts';
import type { withoutErased } from './erasing.ts';
import type { FilesDisk } from './kept-files.ts';
import type { KeptMessage } from './messages.ts';
import type { MessagesPort } from './outbox.ts';

/** Where an app keeps its changes, and from time to time its records in place of them. */
export interface FoldedLog extends LogPort {
  /** Is it worth to keep the records in place of the changes? */
  readonly isLong: boolean;
  /** Begins a new part of the log behind this change. */
  turn(at: number): Promise<unknown>;
  /** Keeps records in place of the parts before the one that was begun last, and puts those aside. */
  fold(snapshot: HostSnapshot): Promise<unknown>;
  /** All changes of a record that were ever kept, in no order. */
  changesOf(record: string): Promise<Change[]>;
  /** Rewrites what was put aside, line by line; null takes it out. What cannot be read goes where it `holds` something. */
  rewrite(of: ReturnType<typeof withoutErased>): Promise<void>;
}

/** What a released app was when it was kept last. */
export interface KeptHost extends Partial<Omit<HostSnapshot, 'states'>> {
  states: Iterable<RecordState>;
  changes: readonly Change[];
  /** Number of the last change. */
  at: number;
}

/** What happens to a released app without being asked for. */
export type Happening =
  /** For some who listen, by their names. */
  | { kind: 'news'; to: string[]; news: News }
  /** For the devices that say that one of these people uses them. */
  | { kind: 'notice'; notice: KeptMessage }
  /** For the operator. */
  | { kind: 'said'; words: string };

/** A mail that goes out: its own id as other mails refer to it, and the one that it answers. */
export interface MailOut {
  message: string;
  to: readonly string[];
  subject: string;
  answers?: string | undefined;
}

/** What hears of every change of a released app. */
export interface ReleasedWatch extends Watch {
  /** Resolves when it needs none of the changes that were made so far again. */
  settled(): Promise<void>;
}

/** What a released app asks of where it runs. */
export interface ReleasedPorts {
  clock: Clock;
  log: FoldedLog;
  files: FilesDisk;
  messages: MessagesPort;
  listeners: TextPort;
  /** Whoever is being erased, until nothing of them is left. */
  erasing: TextPort;
  access?: AccessTo | undefined;
  /** Hears of every change of its host. */
  watch?: ((host: Host) => ReleasedWatch) | undefined;
  /** Is a file needed that no record holds? */
  needsFile?: ((hash: string) => boolean) | undefined;
  /** Lets go of what is kept beside the records and is about somebody. Gives files that may not be needed any more. */
  forget?: ((gone: readonly string[]) => Promise<string[]>) | undefined;
  /** A mail goes out. */
  sent?: ((mail: MailOut) => Promise<void>) | undefined;
  /** A mail lies in the outbox. */
  mailed?: ((id: string) => void) | undefined;
  /** A text message lies in the outbox. */
  texted?: ((id: string) => void) | undefined;
  /** How many bytes its files may have. */
  mostFileBytes: number;
  /** How many mails may leave it in 24 hours; any number where it is absent. */
  mostMails?: number | undefined;
  /** From here its mails go out. */
  address: string;
  /** Sends requests to services, signed with the secrets of this app. */
  services(asked: Outgoing): Promise<CameBack>;
  tell(what: Happening): void;
}
