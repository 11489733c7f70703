import type { App } from '../app/schema.ts';
import { grouped } from '../document/grouped.ts';
import type { Change } from '../records/change.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { inputsFrom, type Knows } from '../routines/trigger.ts';
import { recordTest, triggersOf, type ReadyTrigger, type RecordTest } from './ready.ts';
import { runId, type Start } from './start.ts';

interface Ready extends ReadyTrigger<'record changed'> {
  was: RecordTest;
  where: RecordTest;
}

/** A record as it was before a change, as far as triggers ask. */
interface Before {
  cells: Readonly<Record<string, unknown>> | null;
  title: string;
  /** Values of the fields that triggers name. */
  values: Map<string, KeptValue>;
  /** Did the conditions hold over it, by trigger? */
  held: boolean[];
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** Finds what the changes of records start, one by one: {@link before} and {@link after} each change is made. */
export class RecordStarts {
  private readonly byTable: ReadonlyMap<string, Ready[]>;
  private was: Before | null = null;

  constructor(
    private readonly records: Records,
    private readonly app: App,
  ) {
    const ready = triggersOf(app, 'record changed').map((t) => ({
      ...t,
      was: recordTest(records, t.trigger.table, t.trigger.was),
      where: recordTest(records, t.trigger.table, t.trigger.where),
    }));
    this.byTable = grouped(ready, (r) => r.trigger.table);
  }

  before(change: Change): void {
    const triggers = this.byTable.get(change.table);
    this.was = triggers ? this.look(this.records.row(change.table, change.record), triggers) : null;
  }

  private look(row: Row | undefined, triggers: readonly Ready[]): Before {
    if (!row) return { cells: null, title: '', values: new Map(), held: [] };
    const named = new Set(triggers.flatMap((t) => t.trigger.fields ?? []));
    return {
      cells: { ...row.cells },
      title: row.title(),
      values: new Map(Array.from(named, (f) => [f, keptValue(row.get(f))])),
      held: triggers.map((t) => !t.was.any || t.was.holds(row)),
    };
  }

  after(change: Change): Start[] {
    const { was } = this;
    this.was = null;
    const triggers = was && this.byTable.get(change.table);
    if (!triggers) return [];
    const row = this.records.row(change.table, change.record);
    const did = !was.cells
      ? row
        ? 'added'
        : null
      : !row
        ? 'removed'
        : isSame(was.cells, row.cells)
          ? null
          : 'changed';
    if (!did) return [];
    return triggers.flatMap((t, i) => {
      const found = this.starts(t, did, was, was.held[i] ?? true, row);
      if (!found || (t.trigger.by === 'people' && change.run)) return [];
      const { routine, at } = t;
      const isGiven = row && routine.given === change.table;
      const title = row?.title() ?? was.title;
      return [
        {
          id: runId(change.id, routine.id, at),
          routine: routine.id,
          given: isGiven ? { table: change.table, record: change.record } : null,
          values: inputsFrom(routine, { 'name of the record': title, ...found }),
          said: `${title || 'A record'} was ${did}`,
          path: [...(change.run?.path ?? []), routine.id],
        },
      ];
    });
  }

  /** Does a trigger answer to what was done? Then what it knows beside the record. */
  private starts(
    { trigger, where }: Ready,
    did: 'added' | 'changed' | 'removed',
    was: Before,
    held: boolean,
    row: Row | undefined,
  ): Knows | null {
    const { how, fields = [] } = trigger;
    if (how === 'either' ? did === 'removed' : how !== did) return null;
    if (row && where.any && !where.holds(row)) return null;
    if (did === 'added') return {};
    if (!held) return null;
    if (did === 'removed' || fields.length === 0) return {};
    const field = fields.find((f) => !isSame(was.values.get(f), keptValue(row!.get(f))));
    if (field === undefined) return null;
    return { 'value before': was.values.get(field) ?? null, 'value now': keptValue(row!.get(field)) };
  }
}
