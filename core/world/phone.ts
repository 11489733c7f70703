import { NOBODY, type Who } from '../access/access.ts';
import { until, type Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import { newRecordId, type Device, type Refusal } from '../host/device.ts';
import { OfflineError } from '../host/link.ts';
import type { News, Overtaken } from '../host/protocol.ts';
import type { Replica } from '../host/replica.ts';
import type { PersonRecord } from '../phone/api.ts';
import { Phone } from '../phone/phone.ts';
import type { PhonePorts } from '../phone/ports.ts';
import type { Change, Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { Effect, Happened } from '../session/effects.ts';
import type { Kinds } from '../session/session.ts';
import { MemoryStore } from './memory.ts';
import { Wire, type Network, type Spy, type WireWorld } from './network.ts';
import type { VirtualClock } from './clock.ts';
import type { App } from '../app/schema.ts';

const NO_KINDS: Kinds = { elements: new Map(), steps: new Map(), triggers: new Map() };

/** As much of a world as its phones need. */
export interface AroundPhone extends WireWorld {
  readonly phoneApp: App;
  readonly clock: VirtualClock;
  readonly options: { kinds?: Kinds; spy?: Spy; doors?: boolean };
  clockOf(isOn: () => boolean, isCoarse?: boolean): Clock;
}

export interface PhoneOptions {
  who?: Who;
  /** Who uses it, as it has kept that: by name, with their record. */
  person?: { name: string; record: PersonRecord | null };
  /** So many milliseconds its clock is ahead; behind where that is negative. */
  off?: number;
  /** It does nothing on its way to the host by itself: only {@link WorldPhone.sync} does. */
  byHand?: boolean;
  // Whoever looks at it hears what happens on it.
  happened?(what: Happened): void;
  did?(effect: Effect): void;
  says?(words: string): void;
  refused?: PhonePorts['refused'];
  overtaken?: PhonePorts['overtaken'];
  reports?(online: boolean, waiting: number): void;
  travelled?(what: Parameters<Spy>[0], value: unknown): void;
  letGo?: PhonePorts['letGo'];
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

  /** How often it was opened. */
  get openings(): number {
    return this.runs;
  }

  constructor(
    readonly world: AroundPhone,
    readonly name: string,
    private readonly options: PhoneOptions,
  ) {
    this.who = options.who ?? NOBODY;
    this.off = options.off ?? 0;
    this.store.values.set('device', name);
    this.store.values.set('ear', `${name} hears`);
    if (options.person) {
      this.store.values.set('person', options.person.name);
      this.store.values.set('person record', options.person.record);
    }
    this.open('on');
  }

  get network(): Network {
    return this.wire.network;
  }
  set network(now: Network) {
    this.wire.network = now;
    if (now !== 'off') this.wakeTries();
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

  /** What is tried again while there is no network, in which time need not stop: nothing can come of it. */
  private tries: { at: number; work: () => void; cancel(): void }[] = [];

  /** Tries again in so many milliseconds. */
  private tryIn(ms: number, work: () => void): () => void {
    const { clock } = this.world;
    if (this.network !== 'off') return clock.after(ms, work);
    const again = {
      at: clock.now() + ms,
      work: (): void => {
        this.tries = this.tries.filter((t) => t !== again);
        work();
      },
      cancel: (): void => undefined,
    };
    again.cancel = clock.idly(ms, again.work);
    this.tries.push(again);
    return () => {
      this.tries = this.tries.filter((t) => t !== again);
      again.cancel();
    };
  }
  /** The network is there again: time stops for what is tried. */
  private wakeTries(): void {
    const { clock } = this.world;
    for (const t of this.tries) {
      t.cancel();
      t.cancel = clock.after(t.at - clock.now(), t.work);
    }
  }

  /** Opens the app from what is kept here. */
  private open(network: Network): void {
    const { world } = this;
    const wire = new Wire(
      () => world.released,
      () => this.who,
      world,
      (what, value, who, asked) => {
        world.options.spy?.(what, value, who, asked);
        this.options.travelled?.(what, value);
      },
      network,
    );
    this.wire = wire;
    const clock: Clock = {
      ...world.clockOf(() => this.wire === wire, true),
      now: () => world.clock.now() + this.off,
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
    const say = (words: string): void => {
      this.said.push(words);
      this.options.says?.(words);
    };
    // Not by chance, so that the same seed gives the same names.
    const run = `${this.name}${(this.runs++).toString(36).padStart(4, '0')}`;
    this.phone = new Phone(
      world.phoneApp,
      1,
      { ...store.kept(), run },
      {
        clock,
        store: own,
        kinds: world.options.kinds ?? NO_KINDS,
        whole: async () => own,
        session: {
          happened: (what) => this.options.happened?.(what),
          world: { now: clock.now, newId: newRecordId, until: (time) => until(clock, time) },
        },
        report: (online, waiting) => this.options.reports?.(online, waiting),
        say,
        did: (effect) => {
          this.effects.push(effect);
          this.options.did?.(effect);
        },
        refused: (list) => {
          this.refused.push(...list);
          this.options.refused?.(list);
        },
        overtaken: (list) => {
          this.overtaken.push(...list);
          this.options.overtaken?.(list);
        },
        letGo: this.options.letGo,
      },
    );
    if (this.options.byHand) this.device.connect(wire);
    else {
      this.phone.join({
        link: wire,
        clock: { ...clock, after: (ms, work) => this.tryIn(ms, () => this.wire === wire && work()) },
        listen: (said, hear, over) => wire.listen(said, hear, over),
        send: (m) => wire.send(m),
        file: (hash) => wire.file(hash),
        asks: (message) => wire.asks(message),
        say,
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
    this.close();
    this.open(this.network);
  }

  /** It goes out at once. Whatever it had not kept by then is lost. */
  close(): void {
    this.phone.leaveHost();
    this.wire.goOut();
  }
}
