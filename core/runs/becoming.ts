import type { App } from '../app/schema.ts';
import type { Records } from '../records/store.ts';
import { Touched } from '../records/touched.ts';
import { inputsFrom } from '../routines/trigger.ts';
import { recordTest, triggersOf, type ReadyTrigger, type RecordTest } from './ready.ts';
import { runId, type Start } from './start.ts';

/** What made something so. */
export interface Cause {
  /** The same whenever the same thing happens. */
  id: string;
  /** The routines of the host that led to it. */
  path: readonly string[];
}

interface Ready extends ReadyTrigger<'record becomes'> {
  test: RecordTest;
  touched: Touched;
  /** The records for which it holds. */
  holds: Set<string>;
}

/** Finds for which records conditions begin to hold, looking only at those for which they may be otherwise. */
export class Becoming {
  private readonly ready: Ready[];

  /** What holds now has not become so. */
  constructor(
    private readonly records: Records,
    app: App,
  ) {
    this.ready = triggersOf(app, 'record becomes').map((t) => {
      const { table } = t.trigger;
      const test = recordTest(records, table, t.trigger.where);
      const touched = new Touched(records);
      touched.watch([{ table, reads: test.reads, volatile: test.volatile }]);
      const holds = new Set(
        records
          .rows(table)
          .filter((row) => test.holds(row))
          .map((row) => row.id),
      );
      touched.take();
      return { ...t, test, touched, holds };
    });
  }

  /** Does anything become so by the time alone? */
  get byTime(): boolean {
    return this.ready.some((r) => r.test.volatile);
  }

  /** What has become so since this was asked last. */
  take(cause: Cause): Start[] {
    return this.ready.flatMap((r) => this.takeOne(r, cause));
  }

  private takeOne({ routine, trigger, at, test, touched, holds }: Ready, cause: Cause): Start[] {
    if (touched.isEmpty) return [];
    const { table } = trigger;
    const ids = touched.take() ?? new Set([...holds, ...this.records.rows(table).map((r) => r.id)]);
    const starts: Start[] = [];
    for (const id of ids) {
      const row = this.records.row(table, id);
      if (!row || !test.holds(row)) holds.delete(id);
      else if (!holds.has(id)) {
        holds.add(id);
        starts.push({
          id: runId(cause.id, routine.id, at, id),
          routine: routine.id,
          given: routine.given === table ? { table, record: id } : null,
          values: inputsFrom(routine, { 'name of the record': row.title() }),
          said: `It became so for ${row.title() || 'a record'}`,
          path: [...cause.path, routine.id],
        });
      }
    }
    return starts;
  }

  close(): void {
    for (const r of this.ready) r.touched.close();
  }
}
