import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import type { App } from '../core/app/schema.ts';
import { InTurn } from '../core/document/in-turn.ts';
import { deviceClock } from '../core/document/time.ts';
import type { Answer } from '../core/routines/asks.ts';
import type { Knows } from '../core/routines/trigger.ts';
import type { Cell } from '../core/fields/lists.ts';
import { Device, newDeviceId, runOf } from '../core/host/device.ts';
import type { Sending } from '../core/host/link.ts';
import { Replica } from '../core/host/replica.ts';
import { Records, type Cells } from '../core/records/store.ts';
import type { Patch } from '../core/screens/live-screen.ts';
import type { Opening, Variables } from '../core/session/variables.ts';
import type { Outgoing } from '../core/session/effects.ts';
import { Session } from '../core/session/session.ts';
import { frameOf, type Frame, type PersonRecord, type PlayerApi } from './api.ts';
import type { EngineEvent } from './engine-events.ts';
import type { Files } from './files.ts';
import { kindsOfScreen, needsVariables, UsedKinds } from './kinds.ts';
import type { Inside } from './later.ts';
import { LateStore } from './late-store.ts';
import { Way, type OnTheWay } from '../core/phone/way.ts';
import { HttpLink } from './link.ts';
import { once } from './once.ts';
import { checked, forPatterns, type KeptRelease } from './release.ts';

/** So long routines that start by themselves wait for a newer release. */
const FIRST_TRY_MS = 4000;
const pause = (ms: number): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, ms);
  });
/** What an app uses beyond its first screen is fetched when that has been seen for so many milliseconds. */
const REST_MS = 800;

const later = (): Promise<typeof import('./later.ts')> => import('./later.ts');

/** Runs a released app on a device: its records, its way to the host, and what its screens show. */
export class Engine implements PlayerApi, OnTheWay, Inside {
  here!: KeptRelease;
  store!: LateStore;
  link!: HttpLink;
  device!: Device;
  session!: Session;
  readonly kinds = new UsedKinds();
  private readonly taking = new Map<string, (patch: Patch) => Promise<void>>();
  online = false;
  tell: (e: EngineEvent) => void = () => {};
  way!: Way;
  readonly files: () => Promise<Files> = once(async () => {
    const { Files } = await import('./files.ts');
    return new Files(await this.store.whole(), (hash) => this.link.file(hash).catch(() => null));
  });
  readonly runs = once(async () => {
    const { KeptRuns } = await import('./kept-runs.ts');
    return new KeptRuns(this.link.name, () => this.store.whole());
  });
  private sending: Sending | null = null;

  /** Opens a store of this device. Is anything kept there? */
  private openStore(name: string): Promise<boolean> {
    this.store = new LateStore(name);
    this.store.onBroken = this.say;
    return this.store.isThere();
  }

  /** Says something on the page; what is said again and again is said once. */
  readonly say = (words: string): void => {
    if (words === this.said) return;
    this.tellWords((this.said = words));
  };
  private tellWords(words: string): void {
    this.tell({ kind: 'say', words });
  }
  private said = '';

  /** Opens the app at an address: from this device when it is there, otherwise from the host. */
  async open(name: string, tell: (e: EngineEvent) => void): Promise<Frame> {
    this.tell = tell;
    this.link = new HttpLink(name);
    let there = await this.openStore(`app-${name}`);
    // Another app has come to this address since: what is kept of it stands apart.
    const moved = there ? await this.store.get<string>('moved') : undefined;
    if (moved) there = await this.openStore(`app-${name}-${moved}`);
    let kept = there ? await this.store.get<KeptRelease>('app') : undefined;
    if (!kept) {
      const { at: _at, ...released } = (await this.link.app())!;
      kept = { ...released, app: checked(released.app) };
    }
    this.here = kept;
    this.link.meant = kept.app.id;
    await forPatterns(kept.app);
    this.comeAlong(kept.app);
    let begin = (): void => undefined;
    const begun = new Promise<void>((resolve) => (begin = resolve));
    const records = new Records(kept.app);
    const replica = new Replica(records);
    // On the first visit nothing is kept, and the package that keeps it is not waited for.
    const [states, queue, at, view, id, person, heard, own, ear, told] = there
      ? await Promise.all([
          this.store.allStates(),
          this.store.queued(),
          this.store.get<number>('at'),
          this.store.get<string>('view'),
          this.store.get<string>('device'),
          this.store.get<string>('person'),
          this.store.get<string>('heard'),
          this.store.get<PersonRecord | null>('person record'),
          this.store.get<string>('ear'),
          this.store.get<string>('told'),
        ])
      : [[], [], 0];
    this.heardAt = heard ?? '';
    // Not by randomUUID, which pages by plain http do not have.
    this.ear = ear ?? newDeviceId() + newDeviceId();
    this.told = told ?? '';
    records.beUsedBy(person ?? null, own ?? null);
    replica.load(states);
    const device = id ?? newDeviceId();
    this.device = new Device({ id: runOf(device), replica, store: this.store, link: this.link, queue, at, view });
    this.device.onRefused = ([first, ...more]) =>
      this.tellWords(`Not saved: ${first!.reason}${more.length ? ` And ${more.length} more.` : ''}`);
    this.device.onQueued = () => void this.connect();
    this.device.onUnkept = this.say;
    this.device.onHeld = this.say;
    this.device.onOvertaken = (list) =>
      void import('../core/host/overtaken.ts').then((m) => this.tellWords(m.overtakenSaid(records, list)));
    this.device.onSending = (sending) => {
      this.sending = sending;
      this.report(this.online || sending !== null);
    };
    const connected = begun.then(() => this.connect());
    this.session = new Session(kept.app, records, this.kinds, {
      device: this.device,
      variables: () => this.variables,
      remember: async (p) => {
        await this.store.put('person', p);
        await this.store.put('person record', null);
        // Notices come for whoever uses it now.
        this.way.listenAnew();
      },
      send: (m) => this.queueMail(m),
      file: (address) => this.file(address),
      refresh: async () => {
        await this.device.sync();
      },
      happened: () => {},
      effect: (effect) => this.tell({ kind: 'effect', effect }),
      steps: async () => {
        await this.kinds.forRoutines(this.here.app);
        if (this.here.app.variables?.length) await this.forVariables();
      },
      keepRun: async (...kept) => (await this.runs()).keep(...kept),
      settled: async () => {
        await this.rested;
        // A newer release is taken before anything of the one that is here runs, where it comes soon.
        await Promise.race([connected, pause(FIRST_TRY_MS)]);
        await this.kinds.forRoutines(this.here.app);
      },
    });
    this.session.setApp(kept.app, kept.number);
    setInterval(() => records.tick(), 60_000);
    this.way = new Way(this, deviceClock, !there);
    begin();
    // The first time there is nothing to show before the records have come; keeping them need not be waited for. Later
    // the app opens with what is here, whatever the network does.
    if (!there) {
      await new Promise<void>((resolve) => {
        records.subscribe(() => resolve());
        void connected.finally(resolve);
      });
    }
    // What is new is kept when the first screen can be drawn, so that it does not wait for the package that keeps it.
    if (!there) void this.store.put('app', kept);
    if (!id) void this.store.put('device', device);
    if (!ear) void this.store.put('ear', this.ear);
    self.addEventListener('online', () => void this.connect());
    self.addEventListener('offline', () => this.report(false));
    this.hasRuns = there;
    return frameOf(kept.app, kept.hosts ?? null);
  }

  private variables: Variables | null = null;
  /** What keeps variables is loaded when a screen or what happens on it may need one. */
  private readonly turns = new InTurn();
  readonly forVariables = once(async () => {
    const { Variables } = await import('../core/session/variables.ts');
    const kept = (await this.store.isThere()) ? await this.store.get<Cells>('variables') : undefined;
    this.variables = new Variables(this.here.app, this.session.records, kept, (cells) =>
      this.store.put('variables', cells),
    );
  });

  /** Fetches what the first screen is drawn with while its records are on their way. */
  private comeAlong(app: App): void {
    const first = app.tabs[0]?.screen ?? app.screens[0]?.id ?? '';
    this.tell({ kind: 'needs', views: [...kindsOfScreen(app, first)] });
    // What cannot be fetched now is told when the screen is shown.
    this.kinds.forScreen(app, first).catch(() => undefined);
  }

  /** When the last notice came, as the host's clock had it. */
  heardAt = '';
  /** By this secret the host knows this device again when it listens for somebody. */
  private ear = '';
  /** How many devices said when that they are used by whom. */
  told = '';
  /** The first screen has been seen for a while. */
  private wake!: () => void;
  /** There may be runs that were put away. */
  hasRuns = false;
  private resting = false;
  private readonly rested = new Promise<void>((resolve) => {
    this.wake = resolve;
  });
  private restSoon(): void {
    if (this.resting) return;
    this.resting = true;
    setTimeout(
      () =>
        void later()
          .then((m) => m.rest(this))
          .catch(() => undefined)
          .finally(this.wake),
      REST_MS,
    );
  }

  report(online: boolean): void {
    this.online = online;
    const { here, sending } = this;
    this.tell({ kind: 'state', state: { online, waiting: this.device.waiting, release: here.number, sending } });
  }

  /** Sends, fetches and listens, now and whenever the host can be reached again. */
  async connect(): Promise<void> {
    await this.way.connect();
  }

  /** Another app is at this address now, or the host says so by mistake. */
  async giveWay(): Promise<void> {
    await later()
      .then((m) => m.giveWay(this))
      .catch(() => this.way.again());
  }

  /** What happens at the host from now on. */
  listen(hear: (event: string, data: unknown) => void, over: () => void): () => void {
    const person = this.session.records.person ?? '';
    return this.link.listen({ person, heard: this.heardAt, device: this.ear }, hear, over);
  }
  heard(event: string, data: unknown): void {
    void later()
      .then((m) => m.HEARD[event]?.(this, data))
      .catch(() => this.report(false));
  }

  /** Takes a newer release, if there is one, without a reinstall. */
  async refresh(): Promise<void> {
    await (await later()).refresh(this);
  }

  private async queueMail(m: Outgoing): Promise<void> {
    await (await this.store.whole()).queueMail(m);
    void this.connect();
  }

  sync(): Promise<void> {
    return this.device.sync();
  }

  async sendMail(): Promise<void> {
    const waiting = await this.store.unsentMail();
    if (waiting.length === 0) return;
    const { sendMail } = await import('./phone-mail.ts');
    await sendMail(waiting, await this.store.whole(), this.link, this.say);
  }

  async show(
    view: string,
    screen: string,
    record: string | null,
    take: (patch: Patch) => Promise<void>,
    opening?: Opening,
  ): Promise<boolean> {
    this.letGo(view);
    this.taking.set(view, take);
    await this.kinds.forScreen(this.here.app, screen);
    if (needsVariables(this.here.app, screen)) await this.forVariables();
    // Meanwhile the person may have gone on to another screen.
    if (this.taking.get(view) !== take) return true;
    const shown = async (patch: Patch): Promise<void> => {
      await take(patch);
      this.restSoon();
    };
    return this.session.show(view, screen, record, shown, opening) !== null;
  }
  async leave(view: string): Promise<void> {
    this.session.leave(view);
    this.letGo(view);
  }
  private letGo(view: string): void {
    const taking = this.taking.get(view) as Partial<ProxyMethods> | undefined;
    taking?.[releaseProxy]?.();
    this.taking.delete(view);
  }
  async look(view: string, key: string, change: Record<string, unknown>): Promise<void> {
    this.session.look(view, key, change);
  }
  async tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void> {
    await this.inTurn(this.forTaps());
    await this.session.tapped(view, key, property, knows);
  }
  async answered(id: string, answer: Answer): Promise<void> {
    this.session.answered(id, answer);
  }
  async moved(view: string, key: string, before: string | null): Promise<void> {
    await this.session.moved(view, key, before);
  }
  /** What may start when something is written. Without a network what cannot be fetched keeps nobody from writing. */
  private forStarts(): Promise<void> {
    return this.kinds.forRoutines(this.here.app).catch(() => undefined);
  }
  /**
   * What a person does comes in its order, however long what each needs takes to load: a letter typed later must not be
   * overtaken by one before, nor a tap by what was typed before it.
   */
  private inTurn(ready: Promise<unknown>): Promise<unknown> {
    ready.catch(() => undefined); // told when its turn comes
    return this.turns.next(() => ready);
  }
  /** What a tap may do, and the variables it may read. */
  private async forTaps(): Promise<void> {
    await Promise.all([
      this.kinds.forRoutines(this.here.app),
      this.here.app.variables?.length ? this.forVariables() : null,
    ]);
  }
  async typed(variable: string, cell: Cell) {
    await this.inTurn(Promise.all([this.forVariables(), this.forStarts()]));
    return this.session.typed(variable, cell);
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean) {
    await this.inTurn(this.forStarts());
    return this.session.saveForm(table, record, values, isPart);
  }
  async choices(table: string, search: string) {
    return this.session.choices(table, search);
  }
  async keepFile(content: Blob, name: string) {
    return (await this.files()).keep(content, name);
  }
  async file(address: string) {
    return (await this.files()).read(address);
  }
  async person() {
    return this.session.records.person;
  }
  async beUsedBy(person: string | null, record: PersonRecord | null = null) {
    this.session.records.beUsedBy(person, record);
    this.way.listenAnew();
    await this.store.put('person', person);
    await this.store.put('person record', record);
  }
  async titles(table: string, ids: string[]) {
    return this.session.titles(table, ids);
  }
}

expose(new Engine());
