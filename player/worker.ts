import '../kinds/given/fields.ts';
import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import type { App } from '../core/app/schema.ts';
import { VERSION } from '../core/document/version.ts';
import { deviceClock, pause } from '../core/document/time.ts';
import type { HostSide } from '../core/phone/host-side.ts';
import { Phone } from '../core/phone/phone.ts';
import type { Fetches, PhonePorts } from '../core/phone/ports.ts';
import { frameOf, type Frame } from './api.ts';
import type { EngineEvent } from './engine-events.ts';
import { kindsOfScreen, needsFetched, needsVariables, UsedKinds } from './kinds.ts';
import type { Inside } from './later.ts';
import { LateStore } from './late-store.ts';
import { HttpLink } from './link.ts';
import { checked, forPatterns, lookOf, type KeptRelease } from './release.ts';

/** What an app uses beyond its first screen is fetched when that has been seen for so many milliseconds. */
const REST_MS = 800;

const later = (): Promise<typeof import('./later.ts')> => import('./later.ts');
const session = (): Promise<typeof import('./session.ts')> => import('./session.ts');

/** A released app on this device: the phone with it, and what fetches its parts when they are needed. */
export class Engine implements Inside {
  here!: KeptRelease;
  store!: LateStore;
  link!: HttpLink;
  phone!: Phone;
  readonly kinds = new UsedKinds();
  tell: (e: EngineEvent) => void = () => {};
  /** Asks a service from the page, whose policy says which. */
  private straight: PhonePorts['straight'];
  /** There may be runs that were put away. */
  hasRuns = false;

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
  async open(name: string, tell: (e: EngineEvent) => void, straight?: PhonePorts['straight']): Promise<Frame> {
    this.tell = tell;
    this.straight = straight;
    this.link = new HttpLink(name);
    self.addEventListener('sign in', () => void session().then((m) => m.signedOut(this)));
    let there = await this.openStore(`app-${name}`);
    // Another app has come to this address since: what is kept of it stands apart.
    const moved = there && (await this.store.get<string>('moved'));
    if (moved) there = await this.openStore(`app-${name}-${moved}`);
    let kept = there ? await this.store.get<KeptRelease>('app') : undefined;
    if (!kept) {
      const { at: _at, ...released } = (await this.link.app())!;
      kept = { ...released, app: checked(released.app) };
    }
    if (kept.app.version < VERSION) kept = await (await import('./earlier-release.ts')).broughtOn(kept, this.kinds);
    this.here = kept;
    this.link.meant = kept.app.id;
    await forPatterns(kept.app);
    this.comeAlong(kept.app);
    // On the first visit nothing is kept, and the package that keeps it is not waited for.
    const own = there ? await (await import('./contact.ts')).keptHere(this) : { states: [], queue: [] };
    const phone = new Phone(kept.app, kept.number, own, this.ports);
    this.phone = phone;
    // Whoever uses an app that people sign in to is whom its host says.
    const known =
      kept.app.access?.mail &&
      session()
        .then((m) => m.whoIsHere(this))
        .catch(() => undefined);
    if (!there) await known;
    phone.join(this.host, !there);
    const connected = phone.connect();
    // The first time there is nothing to show before the records have come; keeping them need not be waited for. Later
    // the app opens with what is here, whatever the network does.
    if (!there) {
      await new Promise<void>((resolve) => {
        phone.records.subscribe(() => resolve());
        void connected.finally(resolve);
      });
      // What is new is kept when the first screen can be drawn, so that it does not wait for the package that keeps it.
      void this.store.put('app', kept);
    }
    if (!own.device) void this.store.put('device', phone.name);
    if (!own.ear) void this.store.put('ear', phone.ear);
    self.addEventListener('online', () => void phone.connect());
    self.addEventListener('offline', () => phone.report(false));
    this.hasRuns = there;
    return frameOf(kept.app, { look: await lookOf(kept), hosts: kept.hosts ?? null });
  }
  connect(): Promise<unknown> {
    return this.phone.connect();
  }

  /** Somebody has signed in on the page. */
  async signedIn(name: string): Promise<void> {
    await (await session()).signedIn(this, name);
  }

  private get ports(): PhonePorts {
    const { store, kinds } = this;
    return {
      clock: deviceClock,
      store,
      kinds,
      whole: () => store.whole(),
      hasKept: () => store.isOpen,
      pages: async () => (await import('./pages.ts')).pagesOf(this.link.name),
      vault: async () => (await later()).vaultIn(store),
      fetches: this.fetches,
      ...(this.straight && { straight: this.straight }),
      session: {
        happened: () => {},
        steps: () => kinds.forRoutines(this.here.app),
      },
      rested: () => this.rested,
      report: (online, waiting, sending) =>
        this.tell({
          kind: 'state',
          state: { online, waiting, release: this.here.number, told: this.phone.records.isTold, sending },
        }),
      say: this.say,
      refused: (list) => void later().then((m) => m.refused(this, list)),
      overtaken: (list) => void later().then((m) => m.overtaken(this, list)),
      shown: () => this.restSoon(),
      letGo: (take) => (take as Partial<ProxyMethods>)[releaseProxy]?.(),
    };
  }

  private readonly fetches: Fetches = {
    forScreen: (screen) => this.kinds.forScreen(this.here.app, screen),
    needsVariables: (screen) => needsVariables(this.here.app, screen),
    needsFetched: (screen) => needsFetched(this.here.app, screen),
    forTaps: () => this.kinds.forRoutines(this.here.app),
    // Without a network what cannot be fetched keeps nobody from writing.
    forWriting: () => this.kinds.forRoutines(this.here.app).catch(() => undefined),
  };

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
      listen: (said, hear, over) => this.link.listen(said, hear, over),
      refresh: async () => (await later()).refresh(this),
      send: (json) => this.link.sends('/mail', { method: 'POST', json, limit: 120_000 }),
      file: (hash) => this.link.file(hash),
      asks: (json) => this.link.sends('/asked', { method: 'POST', json }),
      giveWay: () =>
        later()
          .then((m) => m.giveWay(this))
          .catch(() => this.phone.tryAgain()),
      say: this.say,
    };
  }
}

expose(new Engine());
