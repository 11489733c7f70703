import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { KeptValue } from '../records/kept-value.ts';

/** Something that starts a run of a routine on the host. */
export interface Start {
  /** The id of the run: the same whenever the same thing starts the same routine. */
  id: string;
  routine: string;
  given: { table: string; record: string } | null;
  /** What its inputs are given, by their ids. */
  values: Record<string, KeptValue>;
  /** Why, as a sentence: "Kite was added". */
  said: string;
  /** The routines of the host that led to it, itself the last. */
  path: string[];
  /** Why it is stopped before it has done anything; absent where it is not. */
  cut?: string | undefined;
}

/** The id of a run, from what it is that starts it. */
export const runId = (...of: (string | number)[]): string =>
  `h${bytesToHex(sha256(utf8ToBytes(JSON.stringify(of)))).slice(0, 20)}`;
