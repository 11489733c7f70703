import type { PhoneRules } from '../access/phone-rules.ts';
import type { KeptFile } from '../fields/kept-address.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { Asked, CatchUp, Compared, Have, Receipt } from './protocol.ts';

/** Which messages a device knows; a host answers those of an earlier one in words. */
export const PROTOCOL = 2;

/** What a device keeps for itself. Each call is one transaction: all of it or nothing. */
export interface DeviceStore {
  save(update: {
    states?: RecordState[];
    /** Before the states: of a record that is among both nothing from before stays. */
    gone?: string[];
    queued?: Change[];
    sent?: string[];
    at?: number;
    /** The view of the records that `at` is a place in. */
    view?: string;
    /** What the person of that view may do; null where that is everything. */
    may?: PhoneRules | null;
    /** What routines asked to be written, by the names of their asks: it is written with this. */
    wrote?: string[];
  }): Promise<void>;
  /** The content of a file that is kept here; null when it is not. */
  file?(hash: string): Promise<Blob | null>;
}

/** The way to the host. Rejects with {@link OfflineError} when there is none. */
export interface HostLink {
  push(changes: Change[]): Promise<Receipt>;
  pull(asked: Asked): Promise<CatchUp>;
  /** Asks what there must be in place of what is here. */
  compare?(have: Have): Promise<Compared>;
  /** Asks something of the app by a path that has no name of its own here. */
  sends?(path: string, init?: { method: 'POST'; json: unknown }): Promise<unknown>;
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

/** Answers that say of what was sent that it is wrong, and would be the next time too. */
const FOR_GOOD = new Set([400, 413, 415, 422]);
/** Does this status (RFC 9110) say that what was sent can never be taken? */
export const isForGood = (status: number): boolean => FOR_GOOD.has(status);

/** Another app is at the address now than the one that this phone has. */
export class OtherAppError extends Error {
  override name = 'OtherAppError';
  override message = 'Another app is at this address now.';
}
