import type { Change, RecordState } from '../records/change.ts';

/** Where a host keeps its changes. A promise that resolves means: still there after a power cut. */
export interface LogPort {
  append(changes: readonly Change[]): Promise<void>;
}

/** The files that records hold, where they are kept. */
export interface FilesPort {
  /** Bytes of a file that is here whole; null for any other. */
  sizeOf(hash: string): number | null;
}

/** What a host must keep to be restored: its records, and the changes that must be known when they are sent again. */
export interface HostSnapshot {
  states: Iterable<RecordState>;
  /** Ids with the stamps that came with them, the oldest first. */
  known: [id: string, stamp: string][];
  /** No amount with a stamp up to this can be told from one that was added before. */
  forgotten: string;
  /** Changes that runs have made and may ask for again, by the ids of the runs. */
  runChanges: [run: string, changes: string[]][];
}
