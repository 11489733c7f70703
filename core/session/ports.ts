import type { Device } from '../host/device.ts';
import type { RunWorld } from '../routines/program.ts';
import type { KeepRun, Looks } from '../routines/run.ts';
import type { StepKinds } from '../routines/step.ts';
import type { TriggerKinds } from '../routines/trigger.ts';
import type { ScreenDoc } from '../screens/live-screen.ts';
import type { ElementKinds } from '../screens/element.ts';
import type { Cell } from '../fields/lists.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import type { HistoryAsked, HistoryMessage } from '../released/history.ts';
import type { Effect, Happened, Outgoing } from './effects.ts';
import type { Variables } from './variables.ts';

/** The kinds that an app is built of, as far as they are here. */
export interface Kinds {
  elements: ElementKinds;
  steps: StepKinds;
  triggers: TriggerKinds;
}

/** Something that a service is to write, and that waits on the phone until there is a way to it. */
export interface WaitingWrite {
  /** The record: the one that is to be changed, or the one that stands for what is to be added. */
  record: string;
  table: string;
  adds: boolean;
  cells: Readonly<Record<string, Cell>>;
  message: AskedMessage;
  /** Why the service did not take it, in words; null while it waits. */
  said: string | null;
}

/** What waits for a way to its service. */
export interface WritesThatWait {
  /** What waits to be added as this record. */
  added(record: string): WaitingWrite | undefined;
  /** Keeps something that is to be written. What waited for the same record is replaced by it. Gives its record. */
  keep(write: Omit<WaitingWrite, 'record' | 'said'> & { record: string | null }): Promise<string>;
  /** Lets go of what waits for a record. */
  drop(record: string): Promise<void>;
}

/** What is asked from elsewhere while an app runs here: its services, and its host. */
export interface ServicesHere {
  /** The records of the answer are among the others then. Rejects in words without a way to the service. */
  askService(message: AskedMessage): Promise<ServiceAnswer>;
  signOut(): Promise<void>;
  /** What happened to a record, as the host knows it; absent where there is no host. Rejects in words. */
  history?(asked: HistoryAsked): Promise<HistoryMessage>;
  /** How a service marks a record as it is here; null where it does not. */
  markOf(table: string, record: string): string | null;
  unmark(table: string, record: string): void;
  /** What waits here until there is a way to its service; absent where nothing may wait. */
  waiting?: WritesThatWait;
}

/** What a session asks of the world around it. */
export interface SessionPorts {
  device: Device;
  /** Takes something that goes out to people; resolves when it is safely kept. */
  send(message: Outgoing): Promise<void>;
  /** The content behind the address of a file that records hold; null when it cannot be had now. */
  file(address: string): Promise<Blob | null>;
  /** Sends what waits and fetches what is new. Rejects in words without a way to the host; absent where there is none. */
  refresh?(): Promise<void>;
  /** Asks services, and signs out whoever has signed in with one; absent where there are none. */
  services?(): Promise<ServicesHere> | ServicesHere;
  /** A routine has made a file, which is kept under this address. */
  made?(address: string): Promise<void>;
  happened(what: Happened): void;
  /**
   * Does on the phone what a tap or a step says, when it says it. What is asked with an id is answered by
   * `Session.answered`.
   */
  effect(effect: Effect): void;
  /** Screens that are no part of the app, such as a part that is worked on. */
  screen?: (id: string) => ScreenDoc | undefined;
  /** The values of variables; null while the app has none. */
  variables?: () => Variables | null;
  /** Keeps who uses the app here, so that it is known the next time. */
  remember?(person: string): Promise<void>;
  /**
   * Resolves when the first screen is seen and what starts routines is here: until then none is started by screens.
   * Absent where everything is here from the beginning.
   */
  settled?(): Promise<void>;
  /** Fetches what routines are made of, where that comes late. */
  steps?(): Promise<void>;
  /** Keeps runs that may outlive the page. */
  keepRun?: KeepRun;
  /** Was this written already, by the name of the ask of a routine? */
  wrote?(key: string): Promise<boolean>;
  /** Looks at runs step by step. */
  looks?: Looks;
  /** The clock that runs wait by; the real one when absent. */
  world?: RunWorld & { until(time: number): Promise<void> };
}
