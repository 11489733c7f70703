import { fieldKind } from '../fields/kinds.ts';
import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import { newRecordId } from '../host/device.ts';
import { completed } from '../records/begin.ts';
import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { RoutineDoc } from '../routines/program.ts';
import type { RunTrace } from '../routines/run.ts';
import type { RunState } from '../routines/state.ts';
import { startedBy, type Happening } from '../routines/trigger.ts';
import { tableOf } from '../tables/names.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { SaveAnswer } from './effects.ts';
import { readForm } from './forms.ts';
import type { Kinds, SessionPorts } from './ports.ts';
import type { Starts } from './starts.ts';

/** A run whose changes are made with others as one, and what takes all of them. */
export interface WholeRun {
  drafts: readonly Draft[];
  write(drafts: readonly Draft[]): void;
}

/** What the session around does. */
interface Around {
  app(): App;
  happens(happening: Happening): void;
  write(drafts: readonly Draft[], together: boolean): Promise<unknown>;
  /** A record was saved: tells the trace. */
  saved(d: Draft): void;
  run(routine: RoutineDoc, record: string | null, values: RunState['results'], whole: WholeRun): Promise<RunTrace>;
}

/** Saves forms, with the routines that are part of that. */
export class Saves {
  constructor(
    private readonly records: Records,
    private readonly kinds: Kinds,
    private readonly ports: SessionPorts,
    private readonly starts: Starts,
    private readonly around: Around,
  ) {}

  /** Saves a form, or says for each field what is wrong with it. A link is given by the id of its record. */
  async save(
    tableId: string,
    record: string | null,
    values: Record<string, Cell>,
    isPart: boolean,
  ): Promise<SaveAnswer> {
    const table = tableOf(this.around.app(), tableId);
    if (!table) return { problems: { '': 'The table of this form is not there any more.' } };
    const id = record ?? newRecordId();
    // Somebody may have removed it while it was open here.
    if (record !== null && !this.records.row(tableId, record))
      return {
        problems: {
          '': `This ${table.one} was removed meanwhile, so there is nothing to write to. What you typed is still here.`,
        },
      };
    const read = readForm(this.records, table, id, record === null, values);
    if ('problems' in read) {
      if (!isPart)
        this.around.happens({
          on: 'form',
          how: 'refused',
          table: tableId,
          record,
          problems: Object.entries(read.problems)
            .map(([f, said]) => [table.fields.find((x) => x.id === f)?.name, said].filter(Boolean).join(': '))
            .join('\n'),
        });
      return read;
    }
    if (table.fetched) return this.saveFetched(table, record, read.cells, isPart);
    await this.rememberPerson(table.fields, read.cells);
    const tellChanges = this.starts.watched(tableId, id, Object.keys(read.cells));
    const save: Draft = { do: 'set', table: tableId, record: id, cells: read.cells };
    try {
      const all = isPart ? [save] : await this.withParts(save);
      await this.around.write(all, all.length > 1);
      this.around.saved(save);
    } catch (e) {
      return { problems: { '': `Nothing was saved: ${(e as Error).message}` } };
    }
    tellChanges();
    if (!isPart) this.around.happens({ on: 'form', how: 'saved', table: tableId, record: id });
    return { saved: id, created: record === null };
  }

  /** Has the service of a fetched table add a record or change it. */
  private async saveFetched(
    table: Table,
    record: string | null,
    cells: Record<string, Cell>,
    isPart: boolean,
  ): Promise<SaveAnswer> {
    const { saveByService } = await import('./outside-writes.ts');
    const answer = await saveByService(this.records, table, record, cells, await this.ports.services?.());
    if (isPart) return answer;
    if ('saved' in answer) this.around.happens({ on: 'form', how: 'saved', table: table.id, record: answer.saved });
    else
      this.around.happens({
        on: 'form',
        how: 'refused',
        table: table.id,
        record,
        problems: Object.values(answer.problems).join('\n'),
      });
    return answer;
  }

  /** Whoever is written into a new person field here is who uses the app here. */
  private async rememberPerson(fields: readonly Field[], cells: Record<string, Cell>): Promise<void> {
    const person = fields.flatMap((f) => (fieldKind(f.type).isUser ? (cells[f.id] ?? []) : []))[0];
    if (typeof person !== 'string' || person === this.records.person) return;
    this.records.person = person;
    await this.ports.remember?.(person);
  }

  /** The changes of a form with those of the routines that are part of its save. Throws in words when one of them fails. */
  private async withParts(save: Draft): Promise<Draft[]> {
    const { table, record } = save;
    let all = completed(this.records, [save]);
    const parts = startedBy(this.kinds.triggers, this.around.app(), {
      on: 'form',
      how: 'saved',
      table,
      record,
      before: true,
    });
    for (const { routine, values } of parts) {
      const trace = await this.around.run(routine, record, values, {
        drafts: all,
        write: (drafts) => void (all = [...drafts]),
      });
      if (trace.error !== undefined) throw new Error(trace.error);
    }
    return all;
  }
}
