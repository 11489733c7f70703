import { z } from 'zod';
import { readStamp } from '../host/clock.ts';
import type { Change } from '../records/change.ts';
import type { Cell } from '../fields/lists.ts';
import type { Records } from '../records/store.ts';

/** So many of the latest changes are known. */
const KNOWN = 40;

const Cells = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));
/** A change of the latest, with the whole record as it was before and after it; null for none. */
export const LateChange = z.object({
  id: z.string(),
  /** When it was made, in milliseconds since 1970. */
  at: z.number(),
  table: z.string(),
  record: z.string(),
  /** A routine of the server made it. */
  byRoutine: z.boolean(),
  was: Cells.nullable(),
  is: Cells.nullable(),
});
export type LateChange = z.infer<typeof LateChange>;
/** The latest changes of an app, the latest first. */
export const LatelyMessage = z.object({ changes: z.array(LateChange) });

/** Knows the latest changes of a host since it started, and of those before it that were not folded yet. */
export class Lately {
  private list: LateChange[] = [];
  private was: LateChange['was'] = null;

  constructor(private readonly records: Records) {}

  before({ table, record }: Change): void {
    this.was = this.cells(table, record);
  }

  after({ id, stamp, table, record, run, brought }: Change): void {
    const { was } = this;
    this.was = null;
    const is = this.cells(table, record);
    // What was there before the first release starts nothing.
    if (brought || (!was && !is)) return;
    this.list.push({ id, at: readStamp(stamp).ms, table, record, byRoutine: run !== undefined, was, is });
    if (this.list.length > KNOWN * 2) this.list = this.list.slice(-KNOWN);
  }

  private cells(table: string, record: string): Record<string, Cell> | null {
    const row = this.records.row(table, record);
    return row ? { ...row.cells } : null;
  }

  get changes(): LateChange[] {
    return this.list.slice(-KNOWN).reverse();
  }

  forget(): void {
    this.list = [];
  }
}
