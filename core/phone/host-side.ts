import type { Clock } from '../document/time.ts';
import type { HostLink } from '../host/link.ts';
import type { SaidToBe } from '../released/released.ts';
import type { Change } from '../records/change.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import type { Outgoing } from '../session/effects.ts';

/** The host of a phone's app, as that phone reaches it. */
export interface HostSide {
  link: HostLink;
  /** By which the way to it is tried again; that of the phone where it is absent. */
  clock?: Clock;
  /**
   * Hears what happens at the host, with what the device says of who uses it; `over` when that has ended by itself. Gives
   * the way to end it.
   */
  listen(said: SaidToBe, hear: (event: string, data: unknown) => void, over: () => void): () => void;
  /** Changes that the released app does not know yet wait for the next release. */
  sendable?(change: Change): boolean;
  /** Takes a newer release, where there is one. */
  refresh?(): Promise<void>;
  /** Sends a message out to people; absent where messages stay here. */
  send?(message: Outgoing): Promise<void>;
  /** Asks a service by the host, with its secrets. */
  asks?(message: AskedMessage): Promise<ServiceAnswer>;
  /** A file that records hold; null when it is not there. */
  file?(hash: string): Promise<Blob | null>;
  /** What is heard besides news of records, notices and releases. */
  heard?(event: string, data: unknown): unknown;
  /** Another app is at the address now. */
  giveWay?(): Promise<void>;
  /** Something failed that is no fault of the network. */
  say(words: string): void;
}
