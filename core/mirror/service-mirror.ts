import type { App } from '../app/schema.ts';
import { pause, type Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import type { Host } from '../host/host.ts';
import { newRecordId } from '../host/device.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { keyFor, requestIn } from '../services/answer-type.ts';
import type { Page } from '../services/paging.ts';
import type { TakenRow } from '../services/taken.ts';
import { tableOf } from '../tables/names.ts';
import type { Table, TableInStep } from '../tables/schema.ts';
import { areMany, Following, type KeptFollowing } from './following.ts';
import type { BaseRow } from './merge.ts';
import { cellText, fieldsOfService, messageFor, serviceStep, type ServiceStep, type ToSend } from './service-step.ts';
import type { MirrorStatus } from './state.ts';

/** What is kept of a table that is kept in step with a service. */
export interface KeptInStep extends KeptFollowing {
  table: string;
  /** The fields that the agreed rows are of. */
  fields: string[];
  /** Records that were sent to be added, without an answer. */
  unsure: string[];
  /** When all was fetched last, in ms since 1970; 0 for never. */
  at: number;
}

/** Asks a service. `again`: though it was sent before without an answer. */
export type AskService = (message: AskedMessage, again: boolean) => Promise<ServiceAnswer>;

/** More records than this are not kept in step, nor is a list of more pages followed. */
export const MOST_IN_STEP = 20_000;
const MOST_PAGES = 1000;
/** Where more records than this were changed here, all are fetched, in place of each of them. */
const MOST_SINGLY = 40;
/** A service that is asked too often is asked again after so long, and so many times. */
const REST_MS = 15_000;
const MOST_RESTS = 20;
const ID = /^[a-zA-Z0-9_-]{1,60}$/;

/** Keeps one table and what a service lists in step. It looks when it is told to; {@link InStep} tells it. */
export class ServiceMirror extends Following<KeptInStep> {
  private readonly touched = new Set<string>();
  private readonly again = new Set<string>();

  constructor(
    kept: KeptInStep,
    private readonly app: () => App,
    host: Host,
    private readonly ask: AskService,
    protected readonly save: () => Promise<void>,
    tell: (status: MirrorStatus) => void,
    private readonly clock: Clock,
  ) {
    super(kept, kept.table, host, tell, () => clock.now(), {
      ...namesOf(app(), kept.table),
      from: 'service',
      words: 'It is fetched for the first time.',
    });
  }

  /** Says that records were changed in the app. */
  changed(records: Iterable<string>): void {
    for (const r of records) this.touched.add(r);
  }

  /** Fetches all there is, and tells the service what was changed here. */
  look(): Promise<void> {
    return this.inTurn(async () => {
      const { table, source } = this.tableNow();
      this.touched.clear();
      const came = await this.all(source);
      if (came.said !== null) return this.report('broken', `${came.said} The app keeps what it has.`);
      const step = this.step(table, came.rows);
      const before = this.kept.base?.length ?? 0;
      if (areMany(step.removed, before) && !this.allowRemoval)
        return this.report(
          'held',
          `${step.removed.toLocaleString('en-GB')} of ${before.toLocaleString('en-GB')} records are gone from ${this.status.sheet}. Nothing is removed from the app until you say so.`,
        );
      this.allowRemoval = false;
      this.kept.at = this.clock.now();
      await this.take(table, step, came.notes);
    });
  }

  /** Tells the service what was changed here since the last look, without fetching everything. */
  tellChanges(): Promise<void> {
    return this.inTurn(async () => {
      if (this.touched.size === 0) return;
      const { table, source } = this.tableNow();
      const records = [...this.touched];
      // What is not known yet, or cannot be asked for singly, is compared with everything.
      if (this.kept.base === null || !source.one || records.length > MOST_SINGLY || this.status.state === 'held')
        return void this.look();
      this.touched.clear();
      const rows = await this.rowsAround(source, records);
      if (typeof rows === 'string') {
        for (const r of records) this.touched.add(r);
        return this.report('open', `${rows} What was changed here waits.`, { waiting: records.length });
      }
      await this.take(table, this.step(table, rows), this.status.misfits);
    });
  }

  protected lookAgain(): Promise<void> {
    return this.look();
  }

  /** Lets vanished records go here too, or adds them to the service again. */
  async settleHeld(take: 'remove' | 'write again'): Promise<void> {
    if (take === 'remove') this.allowRemoval = true;
    else {
      const { table, source } = this.tableNow();
      const came = await this.all(source);
      if (came.said !== null) return this.report('broken', came.said);
      const gone = new Set(this.step(table, came.rows).drafts.flatMap((d) => (d.do === 'remove' ? [d.record] : [])));
      this.kept.base = this.kept.base?.filter((r) => !gone.has(r.record)) ?? null;
    }
    await this.look();
  }

  /** Sends once more what was sent without an answer. */
  async sendAgain(record: string): Promise<void> {
    this.kept.unsure = this.kept.unsure.filter((r) => r !== record);
    this.again.add(record);
    await this.look();
  }

  private tableNow(): { table: Table; source: TableInStep } {
    const table = tableOf(this.app(), this.table);
    if (!table?.inStep) throw new Error('This table is not kept in step by the released app any more.');
    this.status = { ...this.status, ...namesOf(this.app(), this.table) };
    this.fit(table);
    return { table, source: table.inStep };
  }

  /** What was agreed is of other fields where a newer release has others. */
  private fit(table: Table): void {
    const { kept } = this;
    const fields = fieldsOfService(table).map((f) => f.id);
    if (kept.base && kept.fields.join() !== fields.join()) {
      const places = fields.map((f) => kept.fields.indexOf(f));
      kept.base = kept.base.map((b) => ({
        record: b.record,
        texts: places.map((p) => b.texts[p] ?? ''),
        cells: places.map((p) => b.cells[p] ?? null),
      }));
    }
    kept.fields = fields;
  }

  private step(table: Table, rows: readonly TakenRow[]): ServiceStep {
    return serviceStep({
      app: this.app(),
      records: this.host.replica.records,
      table,
      base: this.kept.base,
      rows,
      unsure: this.kept.unsure,
      // By its key a record is found by links that knew it before it was kept here.
      idFor: (key) => (ID.test(key) && !this.knows(key) ? key : newRecordId()),
    });
  }

  /** Everything the service lists, page after page; or why it is not had whole. */
  private async all(source: TableInStep): Promise<{ rows: TakenRow[]; notes: string[]; said: string | null }> {
    const rows = new Map<string, TakenRow>();
    const notes = new Set<string>();
    let page: Page | null | undefined;
    for (let pages = 0; page !== null; pages++) {
      const before = rows.size;
      const message = { request: source.request, inputs: source.inputs, ...(page !== undefined && { page, before }) };
      const answer = await this.patiently(message);
      if (answer.said !== null) return { rows: [], notes: [], said: answer.said };
      for (const r of answer.rows[this.table] ?? []) rows.set(r.id, r);
      for (const n of answer.notes) notes.add(n);
      if (rows.size > MOST_IN_STEP || pages >= MOST_PAGES)
        return { rows: [], notes: [], said: `There are more than ${MOST_IN_STEP.toLocaleString('en-GB')} records.` };
      // A service that gives the same page again and again would be asked for ever.
      page = rows.size > before ? answer.next : null;
    }
    return { rows: [...rows.values()], notes: [...notes], said: null };
  }

  private async patiently(message: AskedMessage): Promise<ServiceAnswer> {
    for (let rests = 0; ; rests++) {
      const answer = await this.ask(message, false);
      if (answer.failure !== 'too often' || rests >= MOST_RESTS) return answer;
      await pause(this.clock, REST_MS);
    }
  }

  /** What was agreed last, with these records as the service has them now; or why that is not had. */
  private async rowsAround(source: TableInStep, records: readonly string[]): Promise<TakenRow[] | string> {
    const keyAt = this.kept.fields.indexOf(source.key);
    const fresh = new Map<string, TakenRow | null>();
    const { request, input } = source.one!;
    for (const record of records) {
      const agreed = this.kept.base!.find((b) => b.record === record);
      if (!agreed) continue;
      const key = String(agreed.cells[keyAt] ?? '');
      const answer = await this.ask(
        { request, inputs: { [input]: keyFor(this.app(), { request, input }, key) } },
        false,
      );
      if (answer.said !== null && answer.failure !== 'not found') return answer.said;
      const row = answer.rows[this.table]?.[0];
      // An answer for one may say less than a list; what it does not say is as it was.
      fresh.set(record, row ? { ...row, cells: { ...this.cellsOf(agreed), ...row.cells } } : null);
    }
    return this.kept.base!.flatMap((b): TakenRow[] => {
      const known = fresh.get(b.record);
      if (known === null) return [];
      return [known ?? { id: String(b.cells[keyAt] ?? ''), cells: this.cellsOf(b) }];
    });
  }

  private cellsOf = (b: BaseRow): Record<string, Cell> =>
    Object.fromEntries(this.kept.fields.map((f, p) => [f, b.cells[p] ?? null]));

  /** First the app takes what the service says, then the service what the app says; what is agreed is kept last. */
  private async take(table: Table, step: ServiceStep, notes: readonly string[]): Promise<void> {
    const refused = await this.write(step.drafts);
    this.remember(step.conflicts);
    const agreed = new Map([...step.unwritten].filter(([r]) => !refused.has(r) || this.knows(r)));
    // What is sent to be added was not agreed before.
    const problems: string[] = [];
    for (const send of step.sends) {
      const problem = await this.send(table, send, step, agreed);
      if (problem) problems.push(problem);
    }
    this.kept.base = [...agreed.values()];
    this.kept.unsure = this.kept.unsure.filter((r) => !agreed.has(r) && this.knows(r));
    await this.save();
    const misfits = [...new Set([...notes, ...refused.values(), ...problems, ...aloneWords(step.alone)])];
    const waiting = problems.length;
    this.report(waiting ? 'open' : 'in step', problems[0] ?? '', {
      at: new Date(this.clock.now()).toISOString(),
      rows: this.kept.base.length,
      waiting,
      misfits,
      unsure: this.kept.unsure.map((record) => ({ record, title: this.titleOf(record) })),
    });
  }

  /** Sends one change. Gives why it was not taken, in words; null where it was. */
  private async send(
    table: Table,
    send: ToSend,
    step: ServiceStep,
    agreed: Map<string, BaseRow>,
  ): Promise<string | null> {
    const { record } = send;
    const title = this.titleOf(record);
    const { records } = this.host.replica;
    const sent = { ...records.row(this.table, record)?.cells };
    const message = messageFor(this.app(), records, table, send);
    const answer = await this.ask(message, this.again.delete(record));
    if (send.do === 'remove' && (answer.said === null || answer.failure === 'not found')) {
      agreed.delete(record);
      return null;
    }
    if (send.do === 'add' && answer.failure === 'unknown') this.kept.unsure.push(record);
    if (answer.said !== null) return `“${title}”: ${[answer.said, ...Object.values(answer.problems ?? {})].join(' ')}`;
    const [row] = answer.rows[this.table] ?? [];
    if (send.do === 'add' && !row) {
      this.kept.unsure.push(record);
      return `“${title}” was sent, and the answer does not say under which key it is there.`;
    }
    agreed.set(record, await this.agree(send, sent, step.written.get(record), row));
    return null;
  }

  /** What is agreed of a record that was sent: what the answer says of it, for the rest what was sent. */
  private async agree(
    send: ToSend,
    sent: Readonly<Record<string, Cell>>,
    before: BaseRow | undefined,
    row: TakenRow | undefined,
  ): Promise<BaseRow> {
    const { record, fields } = send;
    const said = row?.cells ?? {};
    const cells = this.kept.fields.map((f, p): Cell => {
      if (f in said) return said[f]!;
      return (fields.has(f) ? sent[f] : before?.cells[p]) ?? null;
    });
    // What somebody has changed here meanwhile stays, and is sent next.
    const here = this.host.replica.records.row(this.table, record)?.cells;
    const isAsSent = (f: string): boolean => (here?.[f] ?? null) === (sent[f] ?? null);
    const news = this.kept.fields.flatMap((f, p): [string, Cell][] =>
      here && f in said && isAsSent(f) && (here[f] ?? null) !== cells[p] ? [[f, cells[p]!]] : [],
    );
    if (news.length > 0) await this.write([{ do: 'set', table: this.table, record, cells: Object.fromEntries(news) }]);
    return { record, cells, texts: cells.map(cellText) };
  }
}

const aloneWords = (n: number): string[] =>
  n === 0
    ? []
    : [
        n === 1
          ? 'One record is here alone: the service is given no new ones.'
          : `${n.toLocaleString('en-GB')} records are here alone: the service is given no new ones.`,
      ];

/** What the request that lists the records is called, and its service. */
function namesOf(app: App, table: string): Pick<MirrorStatus, 'file' | 'sheet'> {
  const id = tableOf(app, table)?.inStep?.request ?? '';
  const service = app.services?.find((s) => s.requests.some((r) => r.id === id));
  return { file: requestIn(app, id)?.name ?? 'a request', sheet: service?.name ?? 'the service' };
}
