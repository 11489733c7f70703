import { newId } from '../document/ids.ts';
import type { Records } from '../records/store.ts';
import type { AskedMessage, AnswerFailure, ServiceAnswer } from '../services/answer.ts';
import type { WaitingWrite, WritesThatWait } from '../session/ports.ts';
import type { PhoneStore } from './keeps.ts';

/** What waiting asks of its phone. */
export interface WaitingPorts {
  records: Records;
  store: Pick<PhoneStore, 'get' | 'put'>;
  /** Asks a service; rejects where the host cannot be reached. */
  asks(message: AskedMessage): Promise<ServiceAnswer>;
  /** What is shown of a table is fetched anew. */
  changed(table: string): void;
  /** How many wait has changed. */
  counted(): void;
  say(words: string): void;
}

const STORED = 'waiting writes';
/** What the service may take later; anything else it refuses. */
const PASSING: ReadonlySet<AnswerFailure | undefined> = new Set(['no answer', 'not signed in', 'too often', 'broken']);

/**
 * What forms and routines have services write without a network, in its order. Each is shown as it will be, and goes out
 * once: the host knows it again by its mark. What the service refuses stays, with the reason, until somebody mends it or
 * takes it back.
 */
export class WaitingWrites implements WritesThatWait {
  private list: readonly WaitingWrite[] = [];
  private sending: Promise<void> | null = null;

  constructor(private readonly ports: WaitingPorts) {}

  async open(): Promise<void> {
    this.list = (await this.ports.store.get<WaitingWrite[]>(STORED)) ?? [];
    for (const table of new Set(this.list.map((w) => w.table))) this.lay(table);
  }

  get count(): number {
    return this.list.filter((w) => w.said === null).length;
  }
  of(table: string): readonly WaitingWrite[] {
    return this.list.filter((w) => w.table === table);
  }
  /** What waits to be added as this record. */
  added(record: string): WaitingWrite | undefined {
    return this.list.find((w) => w.adds && w.record === record);
  }

  /** Keeps something that is to be written. What waited for the same record is replaced by it. Gives its record. */
  async keep(write: Parameters<WritesThatWait['keep']>[0]): Promise<string> {
    const wasAdded = write.record !== null && this.added(write.record) !== undefined;
    await this.sending;
    const record = write.record ?? newId('r');
    if (wasAdded && !this.added(record)) throw new Error('It was sent just now. Open it in its list to change it.');
    await this.put([...this.list.filter((w) => w.record !== record), { ...write, record, said: null }]);
    this.lay(write.table);
    this.ports.changed(write.table);
    return record;
  }

  /** Takes something back, or lets go of it as it was written. */
  async drop(record: string): Promise<void> {
    const write = this.list.find((w) => w.record === record);
    if (!write) return;
    await this.put(this.list.filter((w) => w !== write));
    if (write.adds) this.ports.records.remove(write.table, record);
    this.ports.changed(write.table);
  }

  /** Shows the records of a table as they will be. */
  lay(table: string): void {
    const { records } = this.ports;
    for (const w of this.of(table))
      if (w.adds || records.row(table, w.record)) records.set(table, w.record, { ...w.cells });
  }

  /** Sends what waits, in its order; with `again` also what was refused. Resolves when no more can be sent now. */
  send(again: string | null = null): Promise<void> {
    this.sending ??= this.sendAll(again).finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async sendAll(again: string | null): Promise<void> {
    for (const w of this.list) {
      if (w.said !== null && w.record !== again) continue;
      let answer: ServiceAnswer;
      try {
        answer = await this.ports.asks(w.message);
      } catch {
        return; // there is no network again
      }
      if (answer.said === null) {
        await this.drop(w.record);
        continue;
      }
      if (PASSING.has(answer.failure) && w.record !== again) return;
      const said = [answer.said, ...Object.values(answer.problems ?? {}), ...answer.notes.slice(0, 1)].join(' ');
      await this.put(this.list.map((x) => (x === w ? { ...x, said } : x)));
      this.ports.changed(w.table);
      this.ports.say(`The service did not take what waited here: ${said}`);
    }
  }

  private async put(list: readonly WaitingWrite[]): Promise<void> {
    await this.ports.store.put(STORED, list.length > 0 ? list : undefined);
    this.list = list;
    this.ports.counted();
  }
}

/** Does anything wait on a phone? */
export const hasWaiting = async (store: Pick<PhoneStore, 'get'>): Promise<boolean> =>
  (await store.get<WaitingWrite[]>(STORED)) !== undefined;
