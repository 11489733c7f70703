import { asDocumented } from '../../core/access/documented.ts';
import type { Who } from '../../core/access/access.ts';
import { phoneHalf } from '../../core/app/halves.ts';
import type { App } from '../../core/app/schema.ts';
import { MemoryText } from '../../core/document/kept-text.ts';
import { deviceClock, pause } from '../../core/document/time.ts';
import { Refused } from '../../core/document/refused.ts';
import type { Device } from '../../core/host/device.ts';
import type { HostLink } from '../../core/host/link.ts';
import type { Replica } from '../../core/host/replica.ts';
import { Phone } from '../../core/phone/phone.ts';
import type { PhonePorts } from '../../core/phone/ports.ts';
import type { Change, Draft, RecordState } from '../../core/records/change.ts';
import type { Records } from '../../core/records/store.ts';
import { MemoryFiles, MemoryLog, MemoryMessages } from '../../core/released/memory.ts';
import { ReleasedApp } from '../../core/released/released.ts';
import { Wire } from '../../core/world/network.ts';
import { Random } from '../../core/world/random.ts';

/** What was changed elsewhere reaches the phone after so many milliseconds: several changes at once are one. */
const SOON_MS = 200;
const MOST_FILE_BYTES = 2 ** 30;
const OVER = new Refused(503, 'Another host has taken its place.');

/** As much of the engine as this needs. */
interface Around {
  app(): App;
  records: Records;
  replica: Replica;
  device: Device;
  ports(phone: () => Phone): PhonePorts;
  file(hash: string): Promise<Blob | null>;
  keepFile(hash: string, content: Blob): Promise<void>;
}

/**
 * The phone beside the work as one of the people. It is a phone of its own, and what it gets a host sends it: the same
 * code as that of a released app, here in the browser, on a copy of the records. What the person writes is written to the
 * records of the maker where the host takes it.
 */
export class Persona {
  /** The phone of whoever it is now. */
  phone!: Phone;
  private who: Who | null = null;
  private released: ReleasedApp | null = null;
  private wire: Wire | null = null;
  private readonly files = new MemoryFiles();
  private waits = false;

  constructor(private readonly around: Around) {
    around.records.subscribe(() => void this.soon());
  }

  /** It is this person of the table of people from now on; nobody in particular, signed in or not, for null. */
  async be(person: string | null): Promise<void> {
    const { MemoryKeeper } = await import('../../core/phone/memory-keeper.ts');
    const { app, records, ports } = this.around;
    this.end();
    const { people, access } = app();
    const cell = person && people && access?.mail ? records.row(people, person)?.cells[access.mail] : undefined;
    const mail = typeof cell === 'string' ? cell : '';
    this.who = person === null ? { kind: 'nobody', person } : { kind: 'somebody', person, mail };
    this.renew();
    const record = person !== null && people ? { table: people, record: person } : null;
    const kept = { states: [], queue: [], person: mail || null, record };
    const keeper = new MemoryKeeper();
    const own = { ...ports(() => this.phone), store: keeper, whole: async () => keeper };
    delete own.pages;
    delete own.vault;
    const phone = new Phone(phoneHalf(app()), 1, kept, { ...own, report: () => undefined });
    this.phone = phone;
    await (await phone.late()).openVariables();
    phone.join({
      link: this.link,
      listen: (said, hear, over) => this.wire!.listen(said, hear, over),
      file: (hash) => this.around.file(hash),
      say: (words) => own.say(words),
    });
    const wrong = await phone.connect();
    if (wrong) throw wrong;
  }

  /** It is nobody any more. */
  end(): void {
    if (this.who) this.phone.leaveHost();
    this.wire?.goOut();
    void this.released?.close(OVER);
    [this.who, this.released, this.wire] = [null, null, null];
  }

  /** Takes a changed document. */
  setApp(app: App): void {
    if (!this.who) return;
    this.phone.setApp(phoneHalf(app));
    void this.soon();
  }

  /** The way to the host of now, whatever was before. What is written goes on to the records of the maker. */
  private readonly link: HostLink = {
    pull: (asked) => this.wire!.pull(asked),
    compare: (have) => this.wire!.compare(have),
    push: async (changes) => {
      const receipt = await this.wire!.push(changes);
      const kept = new Set(receipt.accepted);
      await this.pass(changes.filter((c) => kept.has(c.id)));
      return receipt;
    },
    sendFile: async (file, content, heard) => {
      await this.wire!.sendFile(file, content, heard);
      await this.around.keepFile(file.hash, content);
    },
  };

  /** Writes to the records of the maker what the host has taken; what belongs together together. */
  private async pass(changes: readonly Change[]): Promise<void> {
    if (changes.length === 0) return;
    const drafts = changes.map((c): Draft => {
      const { table, record } = c;
      if (c.do === 'remove') return { do: 'remove', table, record };
      if (c.do === 'raise') return { do: 'raise', table, record, by: c.by, cells: c.cells, makes: c.makes };
      return { do: c.do, table, record, cells: c.cells ?? {} } as Draft;
    });
    await this.around.device.write(
      drafts,
      changes.some((c) => c.group !== undefined),
    );
  }

  /** A host with the records as they are now, in place of the one before. */
  private renew(): void {
    const before = [this.released, this.wire] as const;
    const states = Array.from(this.around.replica.all(), bare);
    const made: ReleasedApp = new ReleasedApp(
      this.around.app(),
      { states, changes: [], at: 0 },
      {
        clock: deviceClock,
        log: new MemoryLog(),
        // What the maker's records hold is here; only what the person adds has to come.
        files: this.files,
        messages: new MemoryMessages(),
        listeners: new MemoryText(),
        erasing: new MemoryText(),
        access: asDocumented,
        mostFileBytes: MOST_FILE_BYTES,
        address: 'app@mellow-kite.example',
        services: async () => ({ failed: { sort: 'refused', words: 'Services are asked by the studio.' } }),
        tell: (what) => this.released === made && this.wire?.hear(what),
      },
    );
    this.released = made;
    this.wire = new Wire(
      () => made,
      () => this.who!,
      { released: made, clock: deviceClock, random: new Random(1), files: this.files },
    );
    // The phone looks for its host, and finds the new one.
    before[1]?.cut();
    void before[0]?.close(OVER);
  }

  /** Something is another for the host. */
  private async soon(): Promise<void> {
    if (!this.who || this.waits) return;
    this.waits = true;
    await pause(deviceClock, SOON_MS);
    this.waits = false;
    if (!this.who) return;
    this.renew();
    await this.phone.connect();
  }
}

/** A state as hosts keep it: without what only devices know of it. */
export function bare({ was: _was, told: _told, hidden: _hidden, under: _under, ...state }: RecordState): RecordState {
  return structuredClone(state);
}
