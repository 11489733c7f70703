import type { HostLink } from '../host/link.ts';
import type { Change } from '../records/change.ts';

/** The host of a phone's app, as that phone reaches it. */
export interface HostSide {
  link: HostLink;
  /** Hears what happens at the host; `over` when that has ended by itself. Gives the way to end it. */
  listen(hear: (event: string, data: unknown) => void, over: () => void): () => void;
  /** Changes that the released app does not know yet wait for the next release. */
  sendable?(change: Change): boolean;
  /** Takes a newer release, where there is one. */
  refresh?(): Promise<void>;
  /** Sends the messages that wait. */
  sendMail?(): Promise<void>;
  /** What is heard besides news of records. */
  heard?(event: string, data: unknown): unknown;
  /** Another app is at the address now. */
  giveWay?(): Promise<void>;
  /** Something failed that is no fault of the network. */
  say(words: string): void;
}
