import type { PhoneRules } from '../access/phone-rules.ts';
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
  /** Records that accepted changes have written to, where not all that was written may be read, as they are then. */
  given?: RecordState[];
  /** Records that accepted changes have written to and that may not be read, by id. */
  forget?: string[];
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

/** What has happened since an earlier point, as far as whoever hears it may read it. */
export interface News {
  /** Number of the last change before these. */
  from: number;
  at: number;
  changes: Change[];
  /** Records that may not be read any more, by id; the device lets go of them. Before the changes. */
  forget?: string[];
  /** Records of which something else may be read than before, as they are now, in place of what the device has of them. */
  given?: RecordState[];
  /** The view that this is part of, where an app is not open to all; see {@link Asked}. */
  view?: string | undefined;
  /** With a view that is new to the device: what its person may do; null where that is everything. */
  may?: PhoneRules | null;
  /** The view that took its place: the news lead from there to here. */
  was?: string;
}

/** A page of all records, as they are after the change with the number `at`. */
export interface Page {
  at: number;
  states: RecordState[];
  /** Where the next page begins; absent on the last. */
  next?: number;
}

/** The device must compare what it has with what it may have. */
export interface MustCompare {
  compare: true;
}

export type CatchUp = News | Page | MustCompare;

/** Where a device stands: it has everything up to a change, as far as a view of the records showed it. */
export interface Asked {
  since: number;
  view?: string | undefined;
  /** Where the next page begins. */
  from?: number | undefined;
}

/** What a device has of the records whose ids come after one and up to another, sorted by id. Null for no bound. */
export interface Have {
  after: string | null;
  upTo: string | null;
  records: [id: string, version: string][];
}

/** What it must have instead: the records that are missing or different, and those to let go of. */
export interface Compared {
  at: number;
  view: string;
  states: RecordState[];
  forget: string[];
  /** What its person may do; null where that is everything. */
  may: PhoneRules | null;
  /** This far it was compared; null for all that was asked. */
  upTo: string | null;
}

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

/**
 * News that follow one another as one. Of a record that is removed, let go of or given anew in the later ones, nothing of
 * the earlier ones stays where an app is not open to all: it might be more than may be read now.
 */
export function together(first: News, then: News): News {
  const { forget = [], given = [] } = then;
  const removed = then.view === undefined ? [] : then.changes.filter((c) => c.do === 'remove').map((c) => c.record);
  const anew = new Set([...forget, ...given.map((s) => s.id), ...removed]);
  const all: News = { ...then, from: first.from, changes: [...first.changes, ...then.changes] };
  if (anew.size) all.changes = [...first.changes.filter((c) => !anew.has(c.record)), ...then.changes];
  const forgotten = [...(first.forget ?? []).filter((id) => !anew.has(id)), ...forget];
  const states = [...(first.given ?? []).filter((s) => !anew.has(s.id)), ...given];
  if (forgotten.length) all.forget = forgotten;
  if (states.length) all.given = states;
  return all;
}

/** A change as it leaves the host: who made it stays. */
export function withoutAuthor(change: Change): Change {
  const { author, owner, run, brought, ...c } = change;
  if (author === undefined && owner === undefined && run === undefined && brought === undefined) return change;
  return c as Change;
}
