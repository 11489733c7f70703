import type { App } from '../app/schema.ts';
import { InTurn } from '../document/in-turn.ts';
import { every, type Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import { Device, newDeviceId, runOf } from '../host/device.ts';
import type { DeviceStore, Sending } from '../host/link.ts';
import type { News, Overtaken } from '../host/protocol.ts';
import { Replica } from '../host/replica.ts';
import type { Change, RecordState } from '../records/change.ts';
import { Records } from '../records/store.ts';
import type { Answer } from '../routines/asks.ts';
import type { Knows } from '../routines/trigger.ts';
import type { Patch } from '../screens/live-screen.ts';
import { Session, type Kinds, type SessionPorts } from '../session/session.ts';
import type { Opening } from '../session/variables.ts';
import type { PersonRecord, PhoneApi } from './api.ts';
import type { Files } from './files.ts';
import type { HostSide } from './host-side.ts';
import { Walk, type Drafts } from './walk.ts';
import { Way } from './way.ts';

/** What a phone keeps for itself. */
export interface PhoneStore extends DeviceStore {
  get<T>(key: string): Promise<T | undefined>;
  put(key: string, value: unknown): Promise<void>;
  allStates(): Promise<RecordState[]>;
  queued(): Promise<Change[]>;
  /** What was typed into forms and is not saved. */
  drafts(): Promise<Drafts>;
  /** Keeps what a form has; null for nothing. Other pages of the same app keep what is typed in others. */
  keepDraft(form: string, changed: Drafts[string] | null): Promise<void>;
}

/** What is here of an app when it is opened. */
export interface Kept {
  states: RecordState[];
  queue: Change[];
  at?: number | undefined;
  view?: string | undefined;
  /** The name of the device, which it keeps from one opening to the next. */
  device?: string | undefined;
  /** The name of this opening; made up where there is none. */
  run?: string | undefined;
  person?: string | null | undefined;
  record?: PersonRecord | null | undefined;
  drafts?: Drafts | undefined;
  /** The app was begun here before. */
  begun?: boolean | undefined;
}

/** All that a phone kept of an app. */
export async function keptIn(store: PhoneStore): Promise<Kept> {
  const [states, queue, at, view, device, person, record, drafts, begun] = await Promise.all([
    store.allStates(),
    store.queued(),
    store.get<number>('at'),
    store.get<string>('view'),
    store.get<string>('device'),
    store.get<string | null>('person'),
    store.get<PersonRecord | null>('person record'),
    store.drafts(),
    store.get<boolean>('begun'),
  ]);
  return { states, queue, at, view, device, person, record, drafts, begun };
}

type Take = (patch: Patch) => Promise<void>;

/** What is fetched before something is done, where an app comes in parts. */
export interface Fetches {
  forScreen(screen: string): Promise<void>;
  /** What a tap may do, and the variables it may read. */
  forTaps(): Promise<void>;
  /** What may start when something is written. */
  forWriting(): Promise<void>;
  forVariables(): Promise<void>;
}

/** What a phone asks of where it runs. */
export interface PhonePorts {
  clock: Clock;
  store: PhoneStore;
  kinds: Kinds;
  /** The rest of what its session asks for. */
  session: Omit<SessionPorts, 'device' | 'file' | 'remember' | 'refresh'>;
  files(): Promise<Files>;
  /** Absent where everything is here from the beginning. */
  fetches?: Fetches;
  /** The way to its host is there or not, so many changes wait, and this file is on its way. */
  report(online: boolean, waiting: number, sending: Sending | null): void;
  /** Says something to whoever uses it. */
  say(words: string): void;
  refused(list: readonly { change: Change; reason: string }[]): void;
  overtaken(list: readonly Overtaken[]): void;
  /** Somebody else uses it from now on. */
  usedBy?(person: string | null): void;
  /** A page has drawn something. */
  shown?(): void;
  /** What was given to draw a view is needed no more. */
  letGo?(take: Take): void;
}

/** How often what depends on the time is looked at again, in milliseconds. */
const TICK_MS = 60_000;

/**
 * One phone with an app: its records, what its screens show and what happens on them, what waits for the host and the way
 * there, its files, and who uses it. It needs no page: a page draws what it gives, and tells what was done.
 */
export class Phone implements PhoneApi {
  readonly records: Records;
  readonly replica: Replica;
  readonly device: Device;
  readonly session: Session;
  /** Leads whoever uses it through the app. */
  readonly walk: Walk;
  /** The name of the device from one opening to the next. */
  readonly name: string;
  online = false;
  private way: Way | null = null;
  private host: HostSide | null = null;
  private sending: Sending | null = null;
  private readonly taking = new Map<string, Take>();
  private readonly turns = new InTurn();

  constructor(
    private app: App,
    release: number,
    kept: Kept,
    private readonly ports: PhonePorts,
  ) {
    this.records = new Records(app);
    this.replica = new Replica(this.records);
    this.records.beUsedBy(kept.person ?? null, kept.record ?? null);
    this.replica.load(kept.states);
    this.name = kept.device ?? newDeviceId();
    const { queue, at, view } = kept;
    this.device = new Device({
      id: kept.run ?? runOf(this.name),
      replica: this.replica,
      store: ports.store,
      queue,
      at,
      view,
      now: () => ports.clock.now(),
    });
    this.device.onRefused = (list) => ports.refused(list);
    this.device.onOvertaken = (list) => ports.overtaken(list);
    this.device.onUnkept = (why) => ports.say(why);
    this.device.onHeld = (why) => ports.say(why);
    this.device.onQueued = () => void this.connect();
    this.device.onSending = (sending) => {
      this.sending = sending;
      this.report(this.online || sending !== null);
    };
    this.session = new Session(app, this.records, ports.kinds, {
      ...ports.session,
      effect: (e) => {
        if (this.walk.isBegun && (e.do === 'open' || e.do === 'back')) this.walk.took(e);
        else ports.session.effect(e);
      },
      device: this.device,
      file: (address) => this.file(address),
      remember: (person) => this.keepPerson(person, null),
      refresh: () => this.refresh(),
    });
    this.walk = new Walk(
      {
        app: () => this.app,
        show: (...asked) => this.show(...asked),
        leave: (view) => this.leave(view),
        say: (words) => ports.say(words),
        keepDraft: (form, changed) => void ports.store.keepDraft(form, changed),
        isFirst: () => !kept.begun,
        begun: () => void ports.store.put('begun', true),
      },
      kept.drafts,
    );
    this.session.setApp(app, release);
    every(ports.clock, TICK_MS, () => this.records.tick());
  }

  /** Takes a changed document. */
  setApp(app: App, release?: number): void {
    this.app = app;
    this.session.setApp(app, release);
    this.walk.adopt();
  }

  // The host

  /** Has a host from now on. `isFresh`: what is here was fetched from there just now. */
  join(host: HostSide, isFresh = false): void {
    this.leaveHost();
    this.host = host;
    this.device.connect(host.link, host.sendable && ((c) => host.sendable!(c)));
    this.way = new Way(
      {
        refresh: async () => host.refresh?.(),
        sync: () => this.device.sync(),
        sendMail: async () => host.sendMail?.(),
        listen: (hear, over) => host.listen(hear, over),
        heard: (event, data) => this.heard(host, event, data),
        report: (online) => this.report(online),
        say: (words) => host.say(words),
        giveWay: async () => host.giveWay?.(),
      },
      this.ports.clock,
      isFresh,
    );
  }

  /** Has no host any more. */
  leaveHost(): void {
    this.way?.close();
    this.way = null;
    this.host = null;
    this.device.connect(null);
  }

  /** Sends, fetches and listens, now and whenever the host can be reached again. Gives what went wrong, or null. */
  async connect(): Promise<Error | null> {
    return (await this.way?.connect()) ?? null;
  }

  /** Takes what failed on the way to the host. */
  failed(e: Error): void {
    this.way?.failed(e);
  }

  /** Looks for the host again in a while. */
  tryAgain(): void {
    this.way?.again();
  }

  private heard(host: HostSide, event: string, data: unknown): void {
    if (event === 'news') void this.device.receive(data as News).catch((e: Error) => this.failed(e));
    else if (event === 'hello') {
      const { at, view } = data as { at: number; view?: string };
      const { device } = this;
      if (at !== device.position || view !== device.view || device.waiting || !this.online) void this.connect();
    }
    host.heard?.(event, data);
  }

  /** Sends and fetches now. Rejects in words when the host cannot be reached; without one there is nothing to do. */
  async refresh(): Promise<void> {
    const wrong = await this.connect();
    if (wrong) throw wrong;
  }

  report(online: boolean): void {
    this.online = online;
    this.ports.report(online, this.device.waiting, this.sending);
  }

  // What a page asks

  async show(view: string, screen: string, record: string | null, take: Take, opening?: Opening): Promise<boolean> {
    this.letGo(view);
    this.taking.set(view, take);
    await this.ports.fetches?.forScreen(screen);
    // Meanwhile the person may have gone on to another screen.
    if (this.taking.get(view) !== take) return true;
    const shown: Take = async (patch) => {
      await take(patch);
      this.ports.shown?.();
    };
    return this.session.show(view, screen, record, shown, opening) !== null;
  }
  async leave(view: string): Promise<void> {
    this.session.leave(view);
    this.letGo(view);
  }
  private letGo(view: string): void {
    const take = this.taking.get(view);
    if (take) this.ports.letGo?.(take);
    this.taking.delete(view);
  }
  async look(view: string, key: string, change: Record<string, unknown>): Promise<void> {
    this.session.look(view, key, change);
  }
  async tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void> {
    this.walk.tapped(view);
    await this.inTurn(this.ports.fetches?.forTaps());
    await this.session.tapped(view, key, property, knows);
  }
  async answered(id: string, answer: Answer): Promise<void> {
    this.session.answered(id, answer);
  }
  async moved(view: string, key: string, before: string | null): Promise<void> {
    await this.session.moved(view, key, before);
  }
  async typed(variable: string, cell: Cell) {
    const { fetches } = this.ports;
    await this.inTurn(fetches && Promise.all([fetches.forVariables(), fetches.forWriting()]));
    return (await this.session.does()).typed(variable, cell);
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean) {
    await this.inTurn(this.ports.fetches?.forWriting());
    return (await this.session.does()).saveForm(table, record, values, isPart);
  }
  /**
   * What a person does comes in its order, however long what each needs takes to load: a letter typed later must not be
   * overtaken by one before, nor a tap by what was typed before it.
   */
  private async inTurn(ready: Promise<unknown> | undefined): Promise<void> {
    if (!ready) return;
    ready.catch(() => undefined); // told when its turn comes
    await this.turns.next(() => ready);
  }

  async choices(table: string, search: string) {
    return (await this.session.does()).choices(table, search);
  }
  async titles(table: string, ids: string[]) {
    return (await this.session.does()).titles(table, ids);
  }
  async keepFile(content: Blob, name: string) {
    return (await this.ports.files()).keep(content, name);
  }
  async file(address: string) {
    return (await this.ports.files()).read(address);
  }
  async person() {
    return this.records.person;
  }
  async beUsedBy(person: string | null, record: PersonRecord | null = null) {
    this.records.beUsedBy(person, record);
    await this.keepPerson(person, record);
  }
  private async keepPerson(person: string | null, record: PersonRecord | null): Promise<void> {
    const { store } = this.ports;
    // Notices come for whoever uses it now.
    this.way?.listenAnew();
    this.ports.usedBy?.(person);
    await store.put('person', person);
    await store.put('person record', record);
  }
}
