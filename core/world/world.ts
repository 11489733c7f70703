import type { CameBack, Outgoing } from '../services/answer.ts';
import { FAILURES } from '../services/failures.ts';
import { NOBODY, OWNER, type AccessTo, type Who } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import { until, type Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import { newRecordId, type Device, type Refusal } from '../host/device.ts';
import type { Host } from '../host/host.ts';
import type { News, Overtaken } from '../host/protocol.ts';
import { OfflineError } from '../host/link.ts';
import type { Replica } from '../host/replica.ts';
import { Phone } from '../phone/phone.ts';
import type { Change, Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import { MemoryText } from '../document/kept-text.ts';
import { MemoryFiles, MemoryLog, MemoryMessages } from '../released/memory.ts';
import type { KeptHost } from '../released/ports.ts';
import { ReleasedApp } from '../released/released.ts';
import { HostRuns } from '../runs/host-runs.ts';
import { MemoryRuns } from '../runs/lines.ts';
import { areFromBefore, noRuns, takeKept } from '../runs/live-run.ts';
import type { Effect } from '../session/effects.ts';
import type { Kinds } from '../session/session.ts';
import { VirtualClock } from './clock.ts';
import { MemoryStore } from './memory.ts';
import { Wire, type Network, type Spy } from './network.ts';
import { Random } from './random.ts';
// What phones fetch late is here from the beginning: fetching takes time that no clock here counts.
import '../access/rules-here.ts';
import '../host/in-views.ts';
import '../host/send-files.ts';
import '../host/sender.ts';

const NO_KINDS: Kinds = { elements: new Map(), steps: new Map(), triggers: new Map() };

/** Noon of a Wednesday. */
const NOON = Date.UTC(2026, 10, 25, 12);

export interface WorldOptions {
  app: App;
  /** The kinds that its screens and routines are made of; none where only records are looked at. */
  kinds?: Kinds;
  access?: AccessTo;
  /** When it begins, in milliseconds since 1970. */
  at?: number;
  /** The same seed gives the same world. */
  seed?: number;
  /** How many bytes the files of the app may have; a gigabyte where nothing is said. */
  mostFileBytes?: number;
  /** Answers for services; without it none can be reached. */
  services?: (asked: Outgoing) => Promise<CameBack>;
  /** Routines that start on the server run in it, too. Their ids are by chance, also for the same seed. */
  works?: boolean;
  /** Hears all that leaves the host. */
  spy?: Spy;
}

export interface PhoneOptions {
  who?: Who;
  /** So many milliseconds its clock is ahead; behind where that is negative. */
  off?: number;
  /** It does nothing on its way to the host by itself: only {@link WorldPhone.sync} does. */
  byHand?: boolean;
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
  /** What is kept of the runs of the host. */
  readonly lines = new MemoryRuns();
  /** The runs of the host; null where its routines do not run. */
  runs: HostRuns | null = null;
  /** What the host said for its operator. */
  readonly said: string[] = [];
  released: ReleasedApp;

  constructor(readonly options: WorldOptions) {
    this.clock = new VirtualClock(options.at ?? NOON);
    this.random = new Random(options.seed ?? 1);
    const now = (): number => this.clock.now();
    this.files = new MemoryFiles(now);
    this.messages = new MemoryMessages(now);
    this.released = this.newHost(null);
  }

  private newHost(kept: KeptHost | null): ReleasedApp {
    const { clock, log, files, messages, listeners, erasing } = this;
    const { app, access, mostFileBytes = 2 ** 30 } = this.options;
    const made: ReleasedApp = new ReleasedApp(app, kept, {
      // One that has gone out does nothing more.
      clock: { now: () => clock.now(), after: (ms, work) => clock.after(ms, () => this.released === made && work()) },
      log,
      files,
      messages,
      listeners,
      erasing,
      access,
      mostFileBytes,
      address: 'world@mellow-kite.example',
      ...(this.options.works && { watch: (host: Host) => (this.runs = this.newRuns(host, () => made)) }),
      services: this.options.services ?? (async () => ({ failed: { sort: 'refused', words: FAILURES.refused } })),
      // One that has gone out tells nothing more.
      tell: (what) => {
        if (what.kind === 'said') this.said.push(what.words);
        else if (this.released === made) for (const p of this.phones) p.wire.hear(what);
      },
    });
    void this.runs?.open();
    return made;
  }

  /** The runs of a host that begins: with what was kept of them. */
  private newRuns(host: Host, made: () => ReleasedApp): HostRuns {
    const { clock, lines } = this;
    const say = (words: string): void => void this.said.push(words);
    const now = noRuns();
    takeKept(now, lines.lines, say);
    return new HostRuns(
      {
        host,
        app: () => this.app,
        clock: {
          now: () => clock.now(),
          after: (ms, work) => clock.after(ms, () => this.released === made() && work()),
        },
        runs: lines,
        send: (m) => made().send(m, { automatic: true }),
        asks: (m) => made().asks(m, OWNER),
        file: async () => null,
        reach: (people, named) => made().reach(people, named),
        asksOthers: () => undefined,
        mailsOfDay: () => made().mailsOfDay,
        say,
      },
      areFromBefore(now),
    );
  }

  /** The records of the released app. */
  get host(): Host {
    return this.released.host;
  }

  get app(): App {
    return this.options.app;
  }

  /** The cell of a record, as the host has it; null where there is none. */
  cell(table: string, record: string, field: string): Cell {
    return this.host.replica.records.row(table, record)?.cells[field] ?? null;
  }

  /** One more phone. */
  phone(options: PhoneOptions = {}): WorldPhone {
    const phone = new WorldPhone(this, `phone${this.phones.length.toString(36)}`, options);
    this.phones.push(phone);
    return phone;
  }

  /** The host goes out at once, and begins again from its log; where it `folds` that before, from a snapshot. */
  restartHost(folds = false): void {
    if (folds) {
      void this.log.turn(this.host.position);
      void this.log.fold(this.host.snapshot());
    }
    void this.runs?.close();
    this.released = this.newHost(this.log.whole());
    for (const p of this.phones) p.wire.cut();
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

/** A phone of a world. It can be closed at any moment, and opened again from what it kept. */
export class WorldPhone {
  readonly store = new MemoryStore();
  wire!: Wire;
  phone!: Phone;
  readonly refused: Refusal[] = [];
  readonly overtaken: Overtaken[] = [];
  /** What it said in words, such as that it cannot keep anything. */
  readonly said: string[] = [];
  /** What taps and routines did on it, and what it was asked. */
  readonly effects: Effect[] = [];
  who: Who;
  /** So many milliseconds its clock is ahead. */
  off: number;
  private runs = 0;

  constructor(
    readonly world: World,
    readonly name: string,
    private readonly options: PhoneOptions,
  ) {
    this.who = options.who ?? NOBODY;
    this.off = options.off ?? 0;
    this.store.values.set('device', name);
    this.store.values.set('ear', `${name} hears`);
    this.open('on');
  }

  get network(): Network {
    return this.wire.network;
  }
  set network(now: Network) {
    this.wire.network = now;
  }
  get device(): Device {
    return this.phone.device;
  }
  get replica(): Replica {
    return this.phone.replica;
  }
  get records(): Records {
    return this.phone.records;
  }

  /** The cell of a record, as it is here; null where there is none. */
  cell(table: string, record: string, field: string): Cell {
    return this.records.row(table, record)?.cells[field] ?? null;
  }

  /** Opens the app from what is kept here. */
  private open(network: Network): void {
    const { world } = this;
    const wire = new Wire(
      () => world.released,
      () => this.who,
      world.clock,
      world.random,
      world.files,
      world.options.spy,
      network,
    );
    this.wire = wire;
    const clock: Clock = {
      now: () => world.clock.now() + this.off,
      after: (ms, work) => world.clock.after(ms, () => this.wire === wire && work()),
    };
    const { store } = this;
    // What has gone out keeps nothing any more.
    const own = new Proxy(store, {
      get: (on, name) => {
        const of = (on as unknown as Record<string | symbol, unknown>)[name];
        if (typeof of !== 'function') return of;
        const keeps = /^(put|save|keep|queue|mailSent|forget)/.test(String(name));
        return (...given: unknown[]) => (keeps && this.wire !== wire ? Promise.resolve() : of.apply(on, given));
      },
    });
    // Not by chance, so that the same seed gives the same names.
    const run = `${this.name}${(this.runs++).toString(36).padStart(4, '0')}`;
    this.phone = new Phone(
      world.app,
      1,
      { ...store.kept(), run },
      {
        clock,
        store: own,
        kinds: world.options.kinds ?? NO_KINDS,
        whole: async () => own,
        session: {
          happened: () => undefined,
          world: { now: clock.now, newId: newRecordId, until: (time) => until(clock, time) },
        },
        report: () => undefined,
        say: (words) => void this.said.push(words),
        did: (effect) => void this.effects.push(effect),
        refused: (list) => void this.refused.push(...list),
        overtaken: (list) => void this.overtaken.push(...list),
      },
    );
    if (this.options.byHand) this.device.connect(wire);
    else {
      this.phone.join({
        link: wire,
        listen: (said, hear, over) => wire.listen(said, hear, over),
        send: (m) => wire.send(m),
        file: (hash) => wire.file(hash),
        asks: (message) => wire.asks(message),
        say: (words) => void this.said.push(words),
      });
      void this.phone.connect();
    }
    // What had waited goes on.
    if (world.options.kinds) void this.phone.late().then((l) => l.takeUp());
  }

  /** Makes changes, as its person does. */
  write(drafts: readonly Draft[], together = false): Promise<Change[]> {
    return this.device.write(drafts, together);
  }

  /** Hears what happens at the host from now on, where it does not do so by itself. */
  hear(): void {
    this.wire.listen(
      { person: '', heard: '', device: '' },
      (event, data) => {
        if (event === 'news') void this.device.receive(data as News).catch(() => undefined);
      },
      () => undefined,
    );
  }

  /** Sends and fetches now; without a network, nothing. */
  async sync(): Promise<void> {
    await this.device.sync().catch((e: unknown) => {
      if (!(e instanceof OfflineError)) throw e;
    });
  }

  /** It goes out at once, and opens again from what it had kept. */
  restart(): void {
    this.phone.leaveHost();
    this.wire.goOut();
    this.open(this.network);
  }
}
