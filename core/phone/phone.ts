import type { PhoneRules } from '../access/phone-rules.ts';
import type { App } from '../app/schema.ts';
import { once } from '../document/once.ts';
import { InTurn } from '../document/in-turn.ts';
import { every } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import { Device, newDeviceId, runOf } from '../host/device.ts';
import type { Sending } from '../host/link.ts';
import type { News } from '../host/protocol.ts';
import { onDevice } from '../formula/wall-clock.ts';
import { Replica } from '../host/replica.ts';
import { Records } from '../records/store.ts';
import type { Answer } from '../routines/asks.ts';
import type { Knows } from '../routines/trigger.ts';
import { Session } from '../session/session.ts';
import type { Opening } from '../session/variables.ts';
import type { PersonRecord, PhoneApi } from './api.ts';
import type { HostSide } from './host-side.ts';
import type { Kept, PhoneStore } from './keeps.ts';
import type { LateParts } from './late-parts.ts';
import type { Ears } from './ears.ts';
import type { Hello } from './notices.ts';
import { Walk } from './walk.ts';
import { Way } from './way.ts';
import type { PhonePorts, Take } from './ports.ts';

const rulesHere = once(() => import('../access/rules-here.ts'));
const notices = once(() => import('./notices.ts'));
const lateParts = once(() => import('./late-parts.ts'));
/** Without a network what is fetched late is not there. */
const nothing = (): void => undefined;

/** How often what depends on the time is looked at again, in milliseconds. */
const TICK_MS = 60_000;

/**
 * One phone with an app: its records, what its screens show and what happens on them, what waits for the host and the way
 * there, its files, and who uses it. It needs no page: a page draws what it gives, and tells what was done.
 */
export class Phone implements PhoneApi, Ears {
  readonly records: Records;
  readonly replica: Replica;
  readonly device: Device;
  readonly session: Session;
  /** Leads whoever uses it through the app. */
  readonly walk: Walk;
  /** The name of the device from one opening to the next. */
  readonly name: string;
  online = false;
  heardAt: string;
  devicesSaid: string;
  /** By this secret the host knows the device again when it listens for somebody. */
  readonly ear: string;
  /** The first try to reach the host. */
  firstTry: Promise<unknown> | null = null;
  private parts: LateParts | null = null;
  private way: Way | null = null;
  host: HostSide | null = null;
  private sending: Sending | null = null;
  /** What is seen in each view, and how it is shown anew. */
  readonly taking = new Map<string, { take: Take; show(): Promise<boolean> }>();
  private readonly turns = new InTurn();

  constructor(
    public app: App,
    private release: number,
    kept: Kept,
    private readonly ports: PhonePorts,
  ) {
    this.records = new Records(app, () => onDevice(ports.clock.now()));
    this.replica = new Replica(this.records);
    this.records.beUsedBy(kept.person ?? null, kept.record ?? null);
    this.replica.load(kept.states);
    this.name = kept.device ?? newDeviceId();
    // Not by randomUUID, which pages by plain http do not have.
    this.ear = kept.ear ?? newDeviceId() + newDeviceId();
    this.heardAt = kept.heard ?? '';
    this.devicesSaid = kept.devicesSaid ?? '';
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
    this.device.onMay = (may) => this.takeMay(may);
    this.takeMay(kept.may ?? null);
    this.device.onSaid = (why) => ports.say(why);
    this.device.onQueued = () => void this.connect();
    this.device.onSending = (sending) => {
      this.sending = sending;
      this.report(this.online || sending !== null);
    };
    this.session = new Session(app, this.records, ports.kinds, {
      ...ports.session,
      effect: (e) => {
        ports.did?.(e);
        this.walk.took(e);
      },
      device: this.device,
      file: (address) => this.file(address),
      remember: (person) => this.keepPerson(person, null),
      refresh: () => this.refresh(),
      send: ports.session.send ?? (async (m) => (await this.late()).queueMail(m)),
      services: () => this.late(),
      variables: () => this.parts?.variables ?? null,
      wrote: async (key) => (await ports.store.get(`wrote:${key}`)) !== undefined,
      keepRun: async (...run) => (await (await this.late()).runs()).keep(...run),
      steps: async () => {
        await ports.session.steps?.();
        await this.forVariables();
      },
      ...(ports.rested && {
        settled: () =>
          ports.rested!()
            .then(() => this.late())
            .then((l) => l.settled()),
      }),
    });
    this.walk = new Walk(
      {
        app: () => this.app,
        isClosed: (id) => this.records.may?.isClosed(id),
        ready: () => this.rules,
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

  /** Takes what its person may do, as the host tells it. */
  private takeMay(told: PhoneRules | null): void {
    const rules = told && rulesHere().then(({ RulesHere }) => new RulesHere(this.records, told, () => this.app));
    const ready = Promise.resolve(rules).then((may) => {
      if (this.rules === ready) this.records.may = may;
    }, nothing);
    this.rules = told || this.records.may ? ready : null;
  }
  /** What goes by the rules for its person is on its way, or there; null where it may do everything. */
  private rules: Promise<unknown> | null = null;

  /** Takes a changed document. */
  setApp(app: App, release?: number): void {
    this.app = app;
    if (release !== undefined) this.release = release;
    this.session.setApp(app, release);
    this.walk.adopt();
  }

  // The host

  /** Has a host from now on. `isFresh`: what is here was fetched from there just now. */
  join(host: HostSide, isFresh = false): void {
    const { ports } = this;
    this.leaveHost();
    this.host = host;
    this.device.connect(host.link, host.sendable && ((c) => host.sendable!(c)));
    this.way = new Way(
      {
        refresh: async () => host.refresh?.(),
        sync: () => this.device.sync(),
        sendMail: async () => {
          // Before anything was kept there is no mail either.
          if (ports.hasKept?.() === false) return;
          if (host.send) await (await this.late()).sendMail(host.send);
          await (await this.late()).sendWrites();
        },
        listen: (hear, over) =>
          host.listen({ person: this.records.person ?? '', heard: this.heardAt, device: this.ear }, hear, over),
        heard: (event, data) => this.heard(host, event, data),
        report: (online) => this.report(online),
        say: (words) => host.say(words),
        giveWay: async () => host.giveWay?.(),
      },
      host.clock ?? ports.clock,
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
  connect(): Promise<Error | null> {
    const trying = this.way?.connect() ?? Promise.resolve(null);
    this.firstTry ??= trying;
    return trying;
  }

  /** Takes what failed on the way to the host. */
  failed(e: Error): void {
    this.way?.failed(e);
  }

  /** Looks for the host again in a while. */
  tryAgain(): void {
    this.way?.tryAgain();
  }

  private heard(host: HostSide, event: string, data: unknown): void {
    if (event === 'news') void this.device.receive(data as News).catch((e: Error) => this.failed(e));
    else if (event === 'hello') {
      const hello = data as Hello;
      const { device } = this;
      if (hello.at !== device.position || hello.view !== device.view || device.waiting || !this.online)
        void this.connect();
      void notices().then((m) => m.greeted(this, hello), nothing);
      if (hello.release !== this.release) this.renew(host);
    } else if (event === 'release') this.renew(host);
    else void notices().then((m) => m.heard(this, host, event, data), nothing);
  }

  /** Takes a newer release. */
  private renew(host: HostSide): void {
    void host.refresh?.().catch((e: Error) => this.failed(e));
  }

  /** Sends and fetches now. Rejects in words when the host cannot be reached; without one there is nothing to do. */
  async refresh(): Promise<void> {
    this.records.fetcher?.refresh();
    const wrong = await this.connect();
    if (wrong) throw wrong;
  }

  report(online: boolean): void {
    // What could not be fetched without a network is asked for again.
    if (online && !this.online) this.records.fetcher?.retry();
    this.online = online;
    this.counted();
  }

  counted(): void {
    this.ports.report(this.online, this.device.waiting + (this.parts?.waiting?.count ?? 0), this.sending);
  }

  // What a page asks

  async show(view: string, screen: string, record: string | null, take: Take, opening?: Opening): Promise<boolean> {
    this.letGo(view);
    const shown: Take = async (patch) => {
      await take(patch);
      this.ports.shown?.();
    };
    const { fetches } = this.ports;
    const show = async (): Promise<boolean> => {
      // Whoever has not signed in sees another screen in place of those that are closed.
      const seen = this.app.signIn ? (await (await this.late()).signedIn()).screenFor(screen) : screen;
      await this.rules;
      await fetches?.forScreen(seen);
      if (fetches?.needsVariables(seen) ?? true) await this.forVariables();
      if (fetches?.needsFetched(seen) ?? this.app.tables.some((t) => t.fetched)) await (await this.late()).fetched();
      // Meanwhile the person may have gone on to another screen.
      if (this.taking.get(view)?.take !== take) return true;
      return this.session.show(view, seen, seen === screen ? record : null, shown, opening) !== null;
    };
    this.taking.set(view, { take, show });
    return show();
  }
  async leave(view: string): Promise<void> {
    this.session.leave(view);
    this.letGo(view);
  }
  private letGo(view: string): void {
    const known = this.taking.get(view);
    if (known) this.ports.letGo?.(known.take);
    this.taking.delete(view);
  }
  async look(view: string, key: string, change: Record<string, unknown>): Promise<void> {
    this.session.look(view, key, change);
  }
  async tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void> {
    this.walk.tapped(view);
    const { fetches } = this.ports;
    await this.inTurn(fetches && Promise.all([fetches.forTaps(), this.forVariables()]));
    await this.session.tapped(view, key, property, knows);
  }
  async answered(id: string, answer: Answer): Promise<void> {
    this.walk.answered(id);
    this.session.answered(id, answer);
  }
  async moved(view: string, key: string, before: string | null): Promise<void> {
    await this.session.moved(view, key, before);
  }
  async typed(variable: string, cell: Cell) {
    const { fetches } = this.ports;
    await this.inTurn(fetches && Promise.all([this.forVariables(), fetches.forWriting()]));
    return (await this.actions()).typed(variable, cell);
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean) {
    await this.inTurn(this.ports.fetches?.forWriting());
    return (await this.actions()).saveForm(table, record, values, isPart);
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

  async again() {
    this.records.fetcher?.refresh();
  }
  async waits(...asked: Parameters<PhoneApi['waits']>) {
    await (await this.late()).waits(...asked);
  }
  async cameBack(...signed: Parameters<PhoneApi['cameBack']>) {
    await (await this.late()).cameBack(...signed);
  }
  async choices(table: string, search: string) {
    return (await this.late()).choices(table, search);
  }
  async titles(table: string, ids: string[]) {
    return (await this.late()).titles(table, ids);
  }
  async keepFile(content: Blob, name: string) {
    return (await (await this.late()).files()).keep(content, name);
  }
  async file(address: string) {
    return (await (await this.late()).files()).read(address);
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

  /** What its first screen does not need. */
  readonly late = once(async (): Promise<LateParts> => {
    const { LateParts } = await lateParts();
    return (this.parts = new LateParts(this, this.ports));
  });

  /** What keeps variables is here when a screen, or what happens on it, may need one. */
  async forVariables(): Promise<void> {
    if (this.app.variables?.length) await (await this.late()).openVariables();
  }

  get store(): PhoneStore {
    return this.ports.store;
  }
  say(words: string): void {
    this.ports.say(words);
  }
  actions(): ReturnType<Session['actions']> {
    return this.session.actions();
  }
}
