import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import type { App } from '../core/app/schema.ts';
import { deviceClock, pause } from '../core/document/time.ts';
import type { Files } from '../core/phone/files.ts';
import type { HostSide } from '../core/phone/host-side.ts';
import { keptIn, Phone, type Fetches, type PhonePorts } from '../core/phone/phone.ts';
import { newDeviceId } from '../core/host/device.ts';
import type { Cells } from '../core/records/store.ts';
import type { Variables } from '../core/session/variables.ts';
import { frameOf, type Frame } from './api.ts';
import type { EngineEvent } from './engine-events.ts';
import { kindsOfScreen, needsVariables, UsedKinds } from './kinds.ts';
import type { Inside } from './later.ts';
import { LateStore } from './late-store.ts';
import { HttpLink } from './link.ts';
import { once } from './once.ts';
import { checked, forPatterns, lookOf, type KeptRelease } from './release.ts';

/** So long routines that start by themselves wait for a newer release. */
const FIRST_TRY_MS = 4000;
/** What an app uses beyond its first screen is fetched when that has been seen for so many milliseconds. */
const REST_MS = 800;

const later = (): Promise<typeof import('./later.ts')> => import('./later.ts');

/** A released app on this device: the phone with it, and what fetches its parts when they are needed. */
export class Engine implements Inside {
  here!: KeptRelease;
  store!: LateStore;
  link!: HttpLink;
  phone!: Phone;
  readonly kinds = new UsedKinds();
  tell: (e: EngineEvent) => void = () => {};
  /** When the last notice came, as the host's clock had it. */
  heardAt = '';
  /** By this secret the host knows this device again when it listens for somebody. */
  private ear = '';
  /** How many devices said when that they are used by whom. */
  told = '';
  /** There may be runs that were put away. */
  hasRuns = false;

  readonly files: () => Promise<Files> = once(async () => {
    const { Files } = await import('../core/phone/files.ts');
    return new Files(await this.store.whole(), (hash) => this.link.file(hash).catch(() => null));
  });
  readonly runs = once(async () => {
    const { KeptRuns } = await import('./kept-runs.ts');
    return new KeptRuns(this.link.name, () => this.store.whole());
  });

  /** Opens a store of this device. Is anything kept there? */
  private openStore(name: string): Promise<boolean> {
    this.store = new LateStore(name);
    this.store.onBroken = this.say;
    return this.store.isThere();
  }

  /** Says something on the page; what is said again and again is said once. */
  readonly say = (words: string): void => {
    if (words !== this.said) this.tell({ kind: 'say', words: (this.said = words) });
  };
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
    // On the first visit nothing is kept, and the package that keeps it is not waited for.
    const [own, heard = '', told = '', ear] = there
      ? await Promise.all([keptIn(this.store), ...['heard', 'told', 'ear'].map((key) => this.store.get<string>(key))])
      : [{ states: [], queue: [] }];
    this.heardAt = heard;
    this.told = told;
    // Not by randomUUID, which pages by plain http do not have.
    this.ear = ear ?? newDeviceId() + newDeviceId();
    const phone = new Phone(kept.app, kept.number, own, this.ports);
    this.phone = phone;
    phone.join(this.host, !there);
    const connected = phone.connect();
    this.connected = connected;
    // The first time there is nothing to show before the records have come; keeping them need not be waited for. Later
    // the app opens with what is here, whatever the network does.
    if (!there) {
      await new Promise<void>((resolve) => {
        phone.records.subscribe(() => resolve());
        void connected.finally(resolve);
      });
    }
    // What is new is kept when the first screen can be drawn, so that it does not wait for the package that keeps it.
    if (!there) void this.store.put('app', kept);
    if (!own.device) void this.store.put('device', phone.name);
    if (!ear) void this.store.put('ear', this.ear);
    self.addEventListener('online', () => void phone.connect());
    self.addEventListener('offline', () => phone.report(false));
    this.hasRuns = there;
    return frameOf(kept.app, { look: await lookOf(kept), hosts: kept.hosts ?? null });
  }
  private connected: Promise<unknown> = Promise.resolve();

  connect(): Promise<unknown> {
    return this.phone.connect();
  }

  private get ports(): PhonePorts {
    const { store, kinds } = this;
    return {
      clock: deviceClock,
      store,
      kinds,
      files: this.files,
      fetches: this.fetches,
      session: {
        variables: () => this.variables,
        send: async (m) => (await later()).queueMail(this, m),
        happened: () => {},
        effect: (effect) => this.tell({ kind: 'effect', effect }),
        steps: async () => {
          await kinds.forRoutines(this.here.app);
          if (this.here.app.variables?.length) await this.forVariables();
        },
        keepRun: async (...kept) => (await this.runs()).keep(...kept),
        settled: async () => {
          await this.rested;
          // A newer release is taken before anything of the one that is here runs, where it comes soon.
          await Promise.race([this.connected, pause(deviceClock, FIRST_TRY_MS)]);
          await kinds.forRoutines(this.here.app);
        },
      },
      report: (online, waiting, sending) =>
        this.tell({ kind: 'state', state: { online, waiting, release: this.here.number, sending } }),
      say: this.say,
      refused: (list) => void later().then((m) => m.refused(this, list)),
      overtaken: (list) => void later().then((m) => m.overtaken(this, list)),
      shown: () => this.restSoon(),
      letGo: (take) => (take as Partial<ProxyMethods>)[releaseProxy]?.(),
    };
  }

  private readonly fetches: Fetches = {
    forScreen: async (screen) => {
      await this.kinds.forScreen(this.here.app, screen);
      if (needsVariables(this.here.app, screen)) await this.forVariables();
    },
    forTaps: async () => {
      const { app } = this.here;
      await Promise.all([this.kinds.forRoutines(app), app.variables?.length ? this.forVariables() : null]);
    },
    // Without a network what cannot be fetched keeps nobody from writing.
    forWriting: () => this.kinds.forRoutines(this.here.app).catch(() => undefined),
    forVariables: () => this.forVariables(),
  };

  private variables: Variables | null = null;
  /** What keeps variables is loaded when a screen or what happens on it may need one. */
  readonly forVariables = once(async () => {
    const { Variables } = await import('../core/session/variables.ts');
    const kept = (await this.store.isThere()) ? await this.store.get<Cells>('variables') : undefined;
    this.variables = new Variables(this.here.app, this.phone.records, kept, (cells) =>
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

  /** The first screen has been seen for a while. */
  private wake!: () => void;
  private resting = false;
  private readonly rested = new Promise<void>((resolve) => {
    this.wake = resolve;
  });
  private restSoon(): void {
    if (this.resting) return;
    this.resting = true;
    void pause(deviceClock, REST_MS)
      .then(later)
      .then((m) => m.rest(this))
      .catch(() => undefined)
      .finally(this.wake);
  }

  /** The host of the app, over HTTP. */
  private get host(): HostSide {
    return {
      link: this.link,
      listen: (hear, over) => {
        const person = this.phone.records.person ?? '';
        return this.link.listen({ person, heard: this.heardAt, device: this.ear }, hear, over);
      },
      heard: (event, data) =>
        void later().then(
          (m) => m.HEARD[event]?.(this, data),
          () => undefined,
        ),
      refresh: async () => (await later()).refresh(this),
      // Before anything was kept there is no mail either.
      sendMail: async () => (this.store.isOpen ? (await later()).sendMail(this) : undefined),
      giveWay: () =>
        later()
          .then((m) => m.giveWay(this))
          .catch(() => this.phone.tryAgain()),
      say: this.say,
    };
  }
}

expose(new Engine());
