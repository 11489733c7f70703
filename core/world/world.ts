import type { CameBack, Outgoing } from '../services/answer.ts';
import { FAILURES } from '../services/failures.ts';
import { OWNER, type AccessTo } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import type { Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import type { Host } from '../host/host.ts';
import { MemoryText } from '../document/kept-text.ts';
import { Refused } from '../document/refused.ts';
import type { Change, RecordState } from '../records/change.ts';
import { MemoryFiles, MemoryLog, MemoryMessages } from '../released/memory.ts';
import type { FoldedLog, Happening, KeptHost, MailOut, ReleasedWatch } from '../released/ports.ts';
import { ReleasedApp } from '../released/released.ts';
import { HostWork } from '../runs/host-work.ts';
import type { HostRuns } from '../runs/host-runs.ts';
import { MemoryRuns, RunLine } from '../runs/lines.ts';
import { areFromBefore, noRuns, takeKept } from '../runs/live-run.ts';
import type { OpenQuestion } from '../runs/questions.ts';
import type { Kinds } from '../session/session.ts';
import { VirtualClock } from './clock.ts';
import type { Spy } from './network.ts';
import { WorldPhone, type PhoneOptions } from './phone.ts';
import { Random } from './random.ts';
import './all-here.ts';

export { WorldPhone, type PhoneOptions } from './phone.ts';

/** The host lets itself be heard so often, in milliseconds. */
const BEAT_MS = 15_000;
/** Noon of a Wednesday. */
const NOON = Date.UTC(2026, 10, 25, 12);

export interface WorldOptions {
  app: App;
  /** The document as phones get it; the same one where it is absent. */
  phoneApp?: App;
  /** The records that it begins with. */
  states?: readonly RecordState[];
  /** The kinds that its screens and routines are made of; none where only records are looked at. */
  kinds?: Kinds;
  access?: AccessTo;
  /** When it begins, in milliseconds since 1970. */
  at?: number;
  /** The same seed gives the same world. */
  seed?: number;
  /** Where the files of the app are; with room for a gigabyte where nothing is said. */
  files?: MemoryFiles;
  mostFileBytes?: number;
  /** Answers for services; without it none can be reached. */
  services?: (asked: Outgoing) => Promise<CameBack>;
  /**
   * What the server does by itself happens in it, too: routines, mails that come, calls of other systems. The ids of its
   * runs are by chance, also for the same seed.
   */
  works?: boolean;
  /** Whoever may not use the app is refused before anything else, as a server does. */
  doors?: boolean;
  /** Hears all that leaves the host. */
  spy?: Spy;
  /** Hears what the server does: what is kept of its runs, what goes out, what it says for its operator. */
  hears?(what: ServerDid): void;
}

/** What the server of a world does without being asked by a phone. */
export type ServerDid =
  | { did: 'run'; line: RunLine }
  /** Changes were made to its records, by phones, its own routines or whoever. */
  | { did: 'took'; changes: readonly Change[] }
  | { did: 'mail'; mail: MailOut }
  | { did: 'text message'; id: string }
  | { did: 'told'; what: Exclude<Happening, { kind: 'news' }> };

/** Lines of runs in memory, whose writer is heard. */
class HeardRuns extends MemoryRuns {
  constructor(private readonly hear: (line: RunLine) => void) {
    super();
  }
  override async append(lines: readonly string[]): Promise<void> {
    await super.append(lines);
    for (const line of lines) this.hear(RunLine.parse(JSON.parse(line)));
  }
}

/** What hears of every change of a host, when somebody else hears of those that are made. */
function heard(watch: ReleasedWatch, hear: (changes: readonly Change[]) => void): ReleasedWatch {
  let changes: Change[] = [];
  return {
    get asOf() {
      return watch.asOf;
    },
    settled: () => watch.settled(),
    restored: () => {
      changes = [];
      watch.restored();
    },
    before: (change) => watch.before(change),
    after: (change, at) => {
      changes.push(change);
      watch.after(change, at);
    },
    made: (at) => {
      const made = changes;
      changes = [];
      hear(made);
      watch.made(at);
    },
  };
}

/** A log as a host writes it as long as it is on: one that has gone out writes nothing more. */
function logWhile(isOn: () => boolean, log: FoldedLog): FoldedLog {
  const write = async <T>(work: () => Promise<T>): Promise<T> => {
    if (!isOn()) throw new Error('This host has gone out.');
    return work();
  };
  return {
    get isLong() {
      return log.isLong;
    },
    append: (changes) => write(() => log.append(changes)),
    turn: (at) => write(() => log.turn(at)),
    fold: (snapshot) => write(() => log.fold(snapshot)),
    rewrite: (of) => write(() => log.rewrite(of)),
    changesOf: (record) => log.changesOf(record),
  };
}

/**
 * A host, phones, the networks between them and one clock, in one process. Time passes only when it is told to, and what
 * looks like chance is the same for the same seed. It needs no page, no server and no disk.
 */
export class World {
  readonly clock: VirtualClock;
  readonly random: Random;
  readonly phones: WorldPhone[] = [];
  /** What the host keeps, and begins with when it is started anew. */
  readonly log = new MemoryLog();
  readonly files: MemoryFiles;
  private readonly messages: MemoryMessages;
  private readonly listeners = new MemoryText();
  private readonly erasing = new MemoryText();
  /** What is kept of the work of the server. */
  readonly lines: MemoryRuns;
  private readonly mails = new MemoryRuns();
  private readonly hooks = new MemoryText();
  private readonly calls = new MemoryText();
  /** What the server does by itself; null where it does nothing. */
  work: HostWork | null = null;
  /** What the host said for its operator. */
  readonly said: string[] = [];
  released: ReleasedApp;
  private named = 0;

  constructor(readonly options: WorldOptions) {
    this.clock = new VirtualClock(options.at ?? NOON);
    this.random = new Random(options.seed ?? 1);
    const now = (): number => this.clock.now();
    this.files = options.files ?? new MemoryFiles(now);
    this.messages = new MemoryMessages(now);
    this.lines = new HeardRuns((line) => options.hears?.({ did: 'run', line }));
    const { states } = options;
    // Before any phone looks whether it was.
    this.clock.every(BEAT_MS, () => this.phones.forEach((p) => p.wire.beat()), true);
    // Whoever knows of a first change need not be told all again.
    this.released = this.newHost(states ? { states: structuredClone([...states]), changes: [], at: 1 } : null);
    // What it begins with is there after it was started anew.
    if (states) this.fold();
  }

  private fold(): void {
    void this.log.turn(this.host.position);
    void this.log.fold(this.host.snapshot());
  }

  private newHost(kept: KeptHost | null): ReleasedApp {
    const { files, messages, listeners, erasing, options } = this;
    const { app, access, mostFileBytes = 2 ** 30 } = options;
    const clock = this.clockOf(() => this.released === made);
    const work = options.works ? this.newWork(clock, () => made) : null;
    const made: ReleasedApp = new ReleasedApp(app, kept, {
      clock,
      log: logWhile(() => this.released === made, this.log),
      files,
      messages,
      listeners,
      erasing,
      access,
      mostFileBytes,
      address: 'world@mellow-kite.example',
      services: options.services ?? (async () => ({ failed: { sort: 'refused', words: FAILURES.refused } })),
      ...(work && {
        watch: (host: Host) => heard(work.watch(host), (changes) => options.hears?.({ did: 'took', changes })),
        needsFile: (hash: string) => work.mail.needsFile(hash),
        forget: (gone: readonly string[]) => work.forget(gone),
        sent: (mail: MailOut) => {
          options.hears?.({ did: 'mail', mail });
          return work.mail.sent(mail);
        },
        texted: (id: string) => options.hears?.({ did: 'text message', id }),
      }),
      tell: (what) => {
        if (what.kind === 'said') this.said.push(what.words);
        if (what.kind !== 'news') options.hears?.({ did: 'told', what });
        // One that has gone out tells nothing more.
        if (what.kind !== 'said' && this.released === made) for (const p of this.phones) p.wire.hear(what);
      },
    });
    this.work = work;
    void work?.open();
    return made;
  }

  /** The clock of something that ends: what has gone out does nothing more. */
  clockOf(isOn: () => boolean, isCoarse = false): Clock {
    const { clock } = this;
    return {
      now: () => clock.now(),
      after: (ms, work) => clock.after(ms, () => isOn() && work()),
      every: (ms, work) => clock.every(ms, () => isOn() && work(), isCoarse),
    };
  }

  /** What a host does by itself that begins: with what was kept of it. */
  private newWork(clock: Clock, made: () => ReleasedApp): HostWork {
    const say = (words: string): void => void this.said.push(words);
    const kept = noRuns();
    takeKept(kept, this.lines.lines, say);
    const work: HostWork = new HostWork(
      {
        app: () => this.app,
        clock,
        released: made,
        send: (m) => made().send(m, { automatic: true }),
        asks: (m) => made().asks(m, OWNER),
        file: (address) => this.content(address),
        reach: (people, named) => made().reach(people, named),
        asksOthers: (people) => this.asked(Object.fromEntries(people.map((p) => [p, work.runs.waits.of(p)]))),
        mails: { ids: async () => [], read: async () => null },
        relay: null,
        texts: { ids: async () => [], read: async () => null },
        textRelay: null,
        mailsOfDay: () => made().mailsOfDay,
        say,
      },
      { runs: this.lines, mails: this.mails, hooks: this.hooks, calls: this.calls, sent: null, sentTexts: null },
      areFromBefore(kept),
    );
    return work;
  }

  private asked(of: Readonly<Record<string, readonly OpenQuestion[]>>): void {
    for (const p of this.phones) p.wire.asked(of);
  }

  private async content(address: string): Promise<Blob | null> {
    const kept = readKeptAddress(address);
    const content = kept && (await this.files.content(kept.hash));
    return content && new Blob([new Uint8Array(content)], { type: kept.type });
  }

  /** The runs of the host; null where its routines do not run. */
  get runs(): HostRuns | null {
    return this.work?.runs ?? null;
  }

  /** The records of the released app. */
  get host(): Host {
    return this.released.host;
  }

  get app(): App {
    return this.options.app;
  }

  /** The document as phones get it. */
  get phoneApp(): App {
    return this.options.phoneApp ?? this.options.app;
  }

  /** The cell of a record, as the host has it; null where there is none. */
  cell(table: string, record: string, field: string): Cell {
    return this.host.replica.records.row(table, record)?.cells[field] ?? null;
  }

  /** One more phone. */
  phone(options: PhoneOptions = {}): WorldPhone {
    const phone = new WorldPhone(this, `phone${(this.named++).toString(36)}`, options);
    this.phones.push(phone);
    return phone;
  }

  /** A phone is put away for good. */
  remove(phone: WorldPhone): void {
    phone.close();
    const at = this.phones.indexOf(phone);
    if (at >= 0) this.phones.splice(at, 1);
  }

  /** The host goes out at once, and begins again from its log; where it `folds` that before, from a snapshot. */
  restartHost(folds = false): void {
    if (folds) this.fold();
    void this.work?.close();
    this.released = this.newHost(this.log.whole());
    for (const p of this.phones) p.wire.cut();
  }

  /** It is over: nothing of it happens any more. */
  async end(): Promise<void> {
    for (const p of this.phones.slice()) this.remove(p);
    void this.work?.close();
    await this.released.close(new Refused(503, 'This is over.'));
  }

  /** Lets happen what needs no time. */
  settle(): Promise<void> {
    return this.clock.settle();
  }

  /** Lets time pass, in milliseconds, with all that happens in it. */
  pass(ms: number): Promise<void> {
    return this.clock.pass(ms);
  }
}
