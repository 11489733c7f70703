import type { Cell } from '../fields/lists.ts';
import type { DeviceAsk, ElementHow, Opened, Question, Sent } from '../routines/asks.ts';
import type { RunTrace } from '../routines/run.ts';

/** What the phone does when something says so: at once, not when the routine is at its end. */
export type Effect =
  | ({ do: 'open'; screen: string; record: string | null } & Opened)
  /** One screen back, to the first of all, or from a sheet to what it lies upon. */
  | { do: 'back'; to?: 'start' | 'under' | undefined }
  /** A person, or the device, is asked something; the answer goes to the session by this id. */
  | { do: 'ask'; id: string; question: Question }
  | { do: 'device'; id: string; what: DeviceAsk }
  /** With a button it is answered by this id when that is pressed. */
  | { do: 'message'; words: string; tone: 'plain' | 'bad'; press?: { id: string; button: string } }
  | { do: 'element'; how: ElementHow; element: string; cell?: Cell | undefined }
  /** A notice has come for whoever uses the app here. One that stays goes only by a press. */
  | { do: 'notice'; id: string; title: string; words: string; stays?: true };

/** An effect that waits for an answer. */
export type Asked = Extract<Effect, { id: string }>;

/** Something that happened, as a sentence with values, for the trace. */
export interface Happened {
  /** Who used the app then, as far as that is known. */
  person?: string | null;
  said: string;
  tone: 'plain' | 'good' | 'bad';
  /** Milliseconds it took. */
  ms?: number;
  about?: { screen?: string; element?: string; routine?: string; table?: string; record?: string };
  run?: RunTrace;
}

/** A file that goes out with a mail, its content in base 64. */
export interface OutgoingFile {
  name: string;
  type: string;
  data: string;
}

/** What goes out to people. */
export interface Outgoing extends Sent {
  files?: OutgoingFile[];
}

export type SaveAnswer =
  /** `said` is told in place of “Saved”. */
  { saved: string; created: boolean; said?: string } | { problems: Record<string, string> };

/** Said when a variable is named that the app has no more. */
export const NO_VARIABLE = 'This variable is not there any more.';

/** The records that are offered at once where one is to be picked; others are found by typing. */
export const MOST_CHOICES = 50;
