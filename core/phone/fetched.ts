import '../records/asks.ts';
import { ANSWERS, ANSWERS_CAME } from '../document/ids.ts';
import { pause, type Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import type { FetchedRows, Fetcher, FetchState } from '../records/fetching.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { keyFor, requestIn, searchInput } from '../services/answer-type.ts';
import type { Page } from '../services/paging.ts';
import type { TakenRow } from '../services/taken.ts';
import type { FetchedTable, Table } from '../tables/schema.ts';
import { KeptAnswers } from './kept-answers.ts';
import type { PhoneStore } from './keeps.ts';
import type { WaitingWrites } from './waiting-writes.ts';

/** What fetching asks of its phone. */
export interface FetchingPorts {
  records: Records;
  store: Pick<PhoneStore, 'get' | 'put'>;
  clock: Clock;
  /** Asks a service; rejects in words where the host cannot be reached. */
  asks(message: AskedMessage): Promise<ServiceAnswer>;
  /** What waits to be written. */
  waits?: Pick<WaitingWrites, 'of' | 'lay'>;
}

type Inputs = Readonly<Record<string, Cell>>;

/** One answer, as it is known here. */
interface Known {
  key: string;
  table: string;
  inputs: Inputs;
  /** The id of the record that was asked for, where it was one. */
  one?: string;
  ids: string[] | null;
  next: Page | null;
  at: number | null;
  said: string | null;
  /** What is under way: the first page, more, or nothing. */
  asking: 'first' | 'more' | null;
  /** It has been looked for in what is kept. */
  looked: boolean;
  /** It is to be asked for again although it is here. */
  stale: boolean;
  /** How the service marks this answer (RFC 9110, 8.8.3: ETag); null where it does not. */
  mark: string | null;
  triedAt: number;
}

/** Who types is asked for so many milliseconds after the last letter. */
const REST_MS = 250;
/** What failed is not asked for again by itself sooner. */
const RETRY_MS = 20_000;
/** What never counts as fresh is still not asked for twice within this time. */
const LEAST_FRESH_MS = 2000;

/**
 * Fetches what services answer and puts it among the records: each answer under what it was asked with, so that one that
 * comes late never stands in the place of another. Answers are kept on the device, and are there without a network.
 */
export class Fetched implements Fetcher {
  private readonly known = new Map<string, Known>();
  /** Who shows what: a place asks for what it shows once, until that is not fresh any more. */
  private readonly places = new WeakMap<object, { key: string; since: number; cancel: (() => void) | null }>();
  /** How services mark their records as they are, by table and id. */
  private readonly marks = new Map<string, string>();
  private came = 0;
  private finding = 0;
  private readonly kept: KeptAnswers;

  constructor(private readonly ports: FetchingPorts) {
    this.kept = new KeptAnswers(ports.store);
  }

  rows(tableId: string, inputs: Inputs, place: object): FetchedRows {
    const known = this.at(tableId, inputs);
    this.want(known, place);
    const { records } = this.ports;
    const rows = known.ids?.flatMap((id): Row[] => {
      const row = records.row(tableId, id);
      return row ? [row] : [];
    });
    const waits = this.ports.waits?.of(tableId) ?? [];
    const added = waits.flatMap((w): Row[] => {
      const row = w.adds ? records.row(tableId, w.record) : undefined;
      return row ? [row] : [];
    });
    return {
      rows: added.length > 0 ? [...added, ...(rows ?? [])] : (rows ?? null),
      ...stateOf(known),
      ...(waits.length > 0 && {
        waits: waits.map(({ record, said }) => ({ record, title: records.row(tableId, record)?.title() ?? '', said })),
      }),
    };
  }

  more(table: string, inputs: Inputs): void {
    const known = this.at(table, inputs);
    if (known.asking || known.next === null) return;
    void this.ask(known, known.next);
  }

  one(table: string, id: string): FetchState {
    const known = this.at(table, {}, id);
    if (!known.asking && known.ids === null && this.ports.clock.now() - known.triedAt > RETRY_MS) void this.ask(known);
    return stateOf(known);
  }

  /**
   * The records that are found by some words, for whoever picks one of them: asked of the service where that can search.
   * Rejects in words where the service gives none.
   */
  async find(table: string, words: string): Promise<Row[]> {
    const { records } = this.ports;
    // Whoever types is asked for when they rest.
    const turn = ++this.finding;
    if (words) await pause(this.ports.clock, REST_MS);
    if (turn !== this.finding) return [];
    const input = searchInput(requestIn(records.model.app, this.fetchedOf(table)?.request ?? ''));
    const known = this.at(table, input && words ? { [input]: words } : {});
    if (!known.asking && this.isDue(known, -Infinity)) await this.ask(known);
    if (known.ids === null && known.said !== null) throw new Error(known.said);
    const wanted = words.trim().toLowerCase();
    return (known.ids ?? []).flatMap((id): Row[] => {
      const row = records.row(table, id);
      return row && (input || row.title().toLowerCase().includes(wanted)) ? [row] : [];
    });
  }

  /** Records are here, or cannot be had, when this resolves. */
  async have(table: string, ids: readonly string[]): Promise<void> {
    const { records } = this.ports;
    if (!this.fetchedOf(table)?.one) return;
    const missing = ids.filter((id) => !records.row(table, id)).map((id) => this.at(table, {}, id));
    await Promise.all(missing.map((k) => (k.asking ? undefined : this.ask(k))));
  }

  refresh(): void {
    for (const k of this.known.values()) {
      if (k.one !== undefined) {
        if (!k.asking) void this.ask(k);
      } else k.stale = true;
    }
    if (this.known.size) this.tell();
  }

  changed(table: string): void {
    let shown = false;
    for (const k of this.known.values()) {
      if (k.table !== table) continue;
      if (k.one === undefined) shown = k.stale = true;
      else if (!k.asking) void this.ask(k);
    }
    if (shown) this.tell();
  }

  async renew(table: string, id: string): Promise<void> {
    if (this.fetchedOf(table)?.one) return this.ask(this.at(table, {}, id));
    const lists = [...this.known.values()].filter((k) => k.table === table && k.ids?.includes(id));
    await Promise.all(lists.map((k) => this.ask(k)));
  }

  retry(): void {
    const failed = [...this.known.values()].filter((k) => k.said !== null);
    for (const k of failed) k.triedAt = -Infinity;
    if (failed.length) this.tell();
  }

  /** Lets go of everything, here and on the device. */
  async forget(): Promise<void> {
    const { records } = this.ports;
    await this.kept.forget();
    this.known.clear();
    records.batch(() => {
      for (const { table } of records.model.tables.values())
        if (table.fetched) for (const row of records.rows(table.id).slice()) records.remove(table.id, row.id);
    });
    this.tell();
  }

  /** Puts records that came another way among the others, as of an answer to a routine. */
  take(table: string, rows: readonly TakenRow[]): void {
    const { records, waits } = this.ports;
    records.batch(() => {
      for (const { id, cells, mark } of rows) {
        const of = `${table} ${id}`;
        if (mark !== undefined) this.marks.set(of, mark);
        // The mark is of what was here before.
        else if (this.marks.has(of) && differs(records.row(table, id)?.cells, cells)) this.marks.delete(of);
        records.set(table, id, { ...cells });
      }
      waits?.lay(table);
    });
  }

  /** How the service marks a record as it is here; null where it does not. */
  markOf(table: string, id: string): string | null {
    return this.marks.get(`${table} ${id}`) ?? null;
  }
  /** A record was written, so that its mark is of something older. */
  unmark(table: string, id: string): void {
    this.marks.delete(`${table} ${id}`);
  }

  private at(table: string, inputs: Inputs, one?: string): Known {
    const key = `${table} ${one === undefined ? JSON.stringify(inputs) : `one ${one}`}`;
    let known = this.known.get(key);
    if (!known) {
      known = {
        key,
        table,
        inputs,
        ...(one !== undefined && { one }),
        ids: null,
        next: null,
        at: null,
        said: null,
        asking: null,
        looked: false,
        stale: false,
        mark: null,
        triedAt: -Infinity,
      };
      this.known.set(key, known);
    }
    return known;
  }

  /** A place shows an answer: it is asked for where that is due, after a rest where the place asks for one after another. */
  private want(known: Known, place: object): void {
    const { clock } = this.ports;
    const now = clock.now();
    const before = this.places.get(place);
    if (before?.key === known.key) {
      if (!before.cancel && this.isDue(known, before.since)) void this.ask(known);
      return;
    }
    before?.cancel?.();
    const entry = { key: known.key, since: now, cancel: null as (() => void) | null };
    this.places.set(place, entry);
    if (!this.isDue(known, -Infinity)) return;
    // The first is asked for at once; whoever types waits until they rest.
    if (!before || now - before.since > 4 * REST_MS) return void this.ask(known);
    entry.cancel = clock.after(REST_MS, () => {
      entry.cancel = null;
      if (this.isDue(known, -Infinity)) void this.ask(known);
    });
  }

  /** Is it time to ask? `shownSince`: since when the place shows it. */
  private isDue(k: Known, shownSince: number): boolean {
    const now = this.ports.clock.now();
    if (k.asking) return false;
    if (k.stale) return true;
    if (k.said !== null && now - k.triedAt < RETRY_MS) return false;
    if (k.at === null) return true;
    const fresh = (this.fetchedOf(k.table)?.fresh ?? 0) * 1000;
    // What never counts as fresh is asked for each time that it is opened.
    if (fresh === 0 && k.at >= shownSince) return false;
    return now - k.at > Math.max(fresh, LEAST_FRESH_MS);
  }

  private tableOf(id: string): Table | undefined {
    return this.ports.records.model.tables.get(id)?.table;
  }
  private fetchedOf(id: string): FetchedTable | undefined {
    return this.tableOf(id)?.fetched;
  }

  private async ask(k: Known, page?: Page): Promise<void> {
    const { clock, asks } = this.ports;
    k.asking = page === undefined ? 'first' : 'more';
    k.stale = false;
    k.triedAt = clock.now();
    // Whoever asks is drawing just now: it hears of it afterwards.
    await Promise.resolve();
    if (!k.looked) await this.lookInKept(k);
    this.tell();
    const fetched = this.fetchedOf(k.table);
    const message = fetched && this.messageFor(k, fetched, page);
    if (!message) return this.failed(k, 'This cannot be fetched by itself.');
    let answer: ServiceAnswer;
    try {
      answer = await asks(message);
    } catch (e) {
      return this.failed(k, (e as Error).message);
    }
    if (answer.said !== null)
      return this.failed(k, answer.notes[0] ? `${answer.said} It says: ${answer.notes[0]}` : answer.said);
    k.asking = null;
    k.said = null;
    k.at = clock.now();
    // It is as it was (RFC 9110, 15.4.5).
    if (answer.status === 304) return this.tell();
    const rows = answer.rows[k.table] ?? [];
    if (page === undefined) k.mark = answer.mark ?? null;
    const ids = rows.map((r) => r.id);
    k.ids = page === undefined ? ids : [...new Set([...(k.ids ?? []), ...ids])];
    k.next = answer.next;
    this.take(k.table, rows);
    this.tell();
    if (k.one !== undefined && !ids.includes(k.one)) k.said = 'The service does not know it.';
    await this.keep(k);
  }

  private messageFor(k: Known, fetched: FetchedTable, page?: Page): AskedMessage | null {
    const unless = k.mark !== null && page === undefined ? { unless: k.mark } : {};
    if (k.one !== undefined)
      return fetched.one
        ? {
            request: fetched.one.request,
            inputs: { [fetched.one.input]: keyFor(this.ports.records.model.app, fetched.one, k.one) },
            ...unless,
          }
        : null;
    return {
      request: fetched.request,
      inputs: { ...k.inputs },
      ...unless,
      ...(page !== undefined && { page, before: k.ids?.length ?? 0 }),
    };
  }

  private failed(k: Known, why: string): void {
    k.asking = null;
    k.said = why;
    this.tell();
  }

  /** Whoever shows an answer looks again. */
  private tell(): void {
    this.ports.records.set(ANSWERS, 'answers', { [ANSWERS_CAME]: ++this.came });
  }

  /** What was kept of an answer is there until a newer one comes. */
  private async lookInKept(k: Known): Promise<void> {
    k.looked = true;
    const found = await this.kept.of(k.key);
    const kept = found ?? (k.one === undefined ? null : await this.kept.withRecord(k.table, k.one));
    if (!kept) return;
    this.take(k.table, kept.rows);
    k.ids = kept.rows.map((r) => r.id);
    k.at = kept.at;
    // A record that was found in a list has no page after it.
    k.next = kept.next;
  }

  private async keep(k: Known): Promise<void> {
    const rows = (k.ids ?? []).flatMap((id): TakenRow[] => {
      const row = this.ports.records.row(k.table, id);
      return row ? [{ id, cells: { ...row.cells } }] : [];
    });
    await this.kept.keep(
      { key: k.key, table: k.table, at: k.at! },
      rows,
      rows.length === k.ids?.length ? k.next : null,
    );
  }
}

/** Do cells that have come say something else than what is here? */
const differs = (before: Readonly<Record<string, Cell>> | undefined, cells: Readonly<Record<string, Cell>>): boolean =>
  Object.entries(cells).some(([id, cell]) => (before?.[id] ?? null) !== cell);

const stateOf = (k: Known): FetchState => ({
  asking: k.asking !== null,
  said: k.said,
  at: k.at,
  more: k.next !== null,
});
