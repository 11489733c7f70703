import type { Change, RecordState } from '../records/change.ts';

/** What a host and its devices say to each other. */

export interface Receipt {
  /** Ids of the changes that are kept now, new or known before. */
  accepted: string[];
  refused: { id: string; table: string; record: string; reason: string; state: RecordState | null }[];
  /** Records whose stamps the host had to correct because a device's clock runs far ahead. */
  corrected: RecordState[];
  /** Records that accepted amounts were added to, as they are then. */
  raised?: RecordState[];
  /** Cells of accepted changes that were written elsewhere with a later stamp: what was written there stands. */
  overtaken?: Overtaken[];
  /** Hashes of files that the host waits for: the changes that name them are neither accepted nor refused yet. */
  wanted?: string[];
  /** Number of the last change the host has. */
  at: number;
}

/** Cells of a record that keep what somebody else wrote. */
export interface Overtaken {
  table: string;
  record: string;
  fields: string[];
}

export interface News {
  /** Number of the last change before these. */
  from: number;
  at: number;
  changes: Change[];
}

/** A page of all records, as they are after the change with the number `at`. */
export interface Page {
  at: number;
  states: RecordState[];
  /** Where the next page begins; absent on the last. */
  next?: number;
}

export type CatchUp = News | Page;

/** Changes one by one, or as many as belong together, in the order they were made. */
export function units(changes: readonly Change[]): Change[][] {
  const out: Change[][] = [];
  const groups = new Map<string, Change[]>();
  for (const c of changes) {
    const known = c.group === undefined ? undefined : groups.get(c.group);
    if (known) {
      known.push(c);
      continue;
    }
    const unit = [c];
    out.push(unit);
    if (c.group !== undefined) groups.set(c.group, unit);
  }
  return out;
}
