import type { Row } from './row.ts';

/** A field of a table, as {@link Changes} and those who watch them call it. */
export const readKey = (table: string, field: string): string => `${table}/${field}`;

/** What has happened to records since the last telling. Only fields that somebody watches are kept one by one. */
export class Changes {
  /** Anything may be different: records were loaded, or tables changed. */
  all = false;
  /** The clock or the person has moved on. */
  clock = false;
  readonly tables = new Set<string>();
  /** Records whose value of a watched field is or may be different, by {@link readKey}. */
  readonly rows = new Map<string, Set<Row>>();

  note(key: string, row: Row): void {
    const rows = this.rows.get(key);
    if (rows) rows.add(row);
    else this.rows.set(key, new Set([row]));
  }

  get isEmpty(): boolean {
    return !this.all && !this.clock && this.tables.size === 0;
  }

  /** Takes in what happened later. */
  add(later: Changes): void {
    this.all ||= later.all;
    this.clock ||= later.clock;
    for (const t of later.tables) this.tables.add(t);
    for (const [key, rows] of later.rows) for (const row of rows) this.note(key, row);
  }
}
