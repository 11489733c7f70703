import type { Dependency } from '../formula/scope.ts';
import { Changes, readKey } from './changes.ts';
import { WHOLE } from './model.ts';
import type { Row } from './row.ts';
import type { Records } from './store.ts';

/** Something that is worked out for each record of a table, and what it reads. */
export interface Watched {
  table: string;
  reads: readonly Dependency[];
  /** It reads the clock, too. */
  volatile: boolean;
}

/**
 * Adds the records of a table for which something may be otherwise that is worked out from this read. Gives true where it
 * may be for any of them.
 */
export function addTouched(
  records: Records,
  table: string,
  { table: read, field, origin }: Dependency,
  changes: Changes,
  into: Set<Row>,
): boolean {
  const touched = changes.rows.get(readKey(read, field));
  if (!touched) return false;
  if (origin.from !== 'self') return true;
  for (const row of touched) {
    if (origin.hops.length === 0) into.add(row);
    else for (const r of records.dependents.backAlong(row, table, origin.hops)) into.add(r);
  }
  return false;
}

/** Gathers the records for which something may be otherwise that is worked out for each, since it was asked last. */
export class Touched {
  private changes = new Changes();
  private watched: readonly Watched[] = [];
  private unwatch: (() => void) | null = null;
  private readonly stop: () => void;

  constructor(private readonly records: Records) {
    this.stop = records.subscribe((_, changes) => this.changes.add(changes), true);
  }

  /** From now on these are gathered. */
  watch(watched: readonly Watched[]): void {
    this.unwatch?.();
    this.watched = watched;
    this.unwatch = this.records.watch(
      watched.flatMap((w) => [readKey(w.table, WHOLE), ...w.reads.map((d) => readKey(d.table, d.field))]),
    );
  }

  /** Nothing has happened that could touch any. */
  get isEmpty(): boolean {
    const { all, clock, rows } = this.changes;
    return !all && rows.size === 0 && !(clock && this.watched.some((w) => w.volatile));
  }

  /** The records by their ids, and nothing is gathered any more; null where it may be otherwise for any record. */
  take(): ReadonlySet<string> | null {
    const { changes } = this;
    if (this.isEmpty) {
      this.changes = new Changes();
      return NONE;
    }
    this.changes = new Changes();
    if (changes.all) return null;
    const rows = new Set<Row>();
    for (const w of this.watched) {
      for (const row of changes.rows.get(readKey(w.table, WHOLE)) ?? []) rows.add(row);
      const any =
        (w.volatile && changes.clock) ||
        w.reads.filter((d) => addTouched(this.records, w.table, d, changes, rows)).length > 0;
      if (any) for (const row of this.records.rows(w.table)) rows.add(row);
    }
    return new Set(Array.from(rows, (r) => r.id));
  }

  close(): void {
    this.unwatch?.();
    this.stop();
  }
}

const NONE: ReadonlySet<string> = new Set();
