import type { RelayAnswer } from '../core/released/messages-out.ts';
import type { KeptMessage } from '../core/released/messages.ts';
import type { PushAnswer, Subscriber } from '../core/released/web-push.ts';
import type { DayLimits } from '../core/runs/day.ts';
import type { CameBack, Outgoing } from '../core/services/answer.ts';

/** What an app is run with. */
export interface Running {
  name: string;
  /** Where the host's half of its document lies. */
  document: string;
  /** Its folder, with its records, files and mirrors. */
  folder: string;
  /** The folder of the files that tables can mirror. */
  sheets: string;
  /** How many bytes its files may have. */
  mostFileBytes: number;
  /** What it may do in a day. */
  limits: DayLimits;
  /** The domain of its mail address. */
  mailDomain: string;
}

/** Asks services with the secrets that the server keeps. */
export type ServicesPort = (asked: Outgoing) => Promise<CameBack>;

/** Gives a mail to the operator’s relay. */
export type RelayPort = (eml: string, to: readonly string[]) => Promise<RelayAnswer>;

/** Gives a text message to the operator’s address for them. */
export type TextPort = (id: string, message: Pick<KeptMessage, 'to' | 'body'>) => Promise<RelayAnswer>;

/** Gives a message to the push service of a phone; `id` tells messages from one another. */
export type PushPort = (subscriber: Subscriber, id: string, message: string) => Promise<PushAnswer>;
