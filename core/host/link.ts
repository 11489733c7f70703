import type { KeptFile } from '../fields/kept-address.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { CatchUp, Receipt } from './protocol.ts';

/** What a device keeps for itself. Each call is one transaction: all of it or nothing. */
export interface DeviceStore {
  save(update: {
    states?: RecordState[];
    gone?: string[];
    queued?: Change[];
    sent?: string[];
    at?: number;
  }): Promise<void>;
  /** The content of a file that is kept here; null when it is not. */
  file?(hash: string): Promise<Blob | null>;
}

/** The way to the host. Rejects with {@link OfflineError} when there is none. */
export interface HostLink {
  push(changes: Change[]): Promise<Receipt>;
  pull(since: number, from?: number): Promise<CatchUp>;
  /** Sends a file, going on where an earlier try stopped. `sent` hears how many bytes the host has. */
  sendFile?(file: KeptFile, content: Blob, sent: (bytes: number) => void): Promise<void>;
}

/** A file on its way to the host. */
export interface Sending {
  name: string;
  /** Bytes that the host has, of how many. */
  sent: number;
  of: number;
  /** Files that wait behind it. */
  more: number;
}

/** The host cannot be reached now; it is tried again later. */
export class OfflineError extends Error {
  override name = 'OfflineError';
}

/** What was sent can never be taken, however often it is tried; the message says why. */
export class NeverTakenError extends Error {
  override name = 'NeverTakenError';
}
