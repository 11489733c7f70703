import { expose } from 'comlink';
import type { App, Tap } from '../core/app/schema.ts';
import { FORMAT, VERSION } from '../core/app/version.ts';
import { Device, newDeviceId, OfflineError, runOf } from '../core/host/device.ts';
import type { News } from '../core/host/host.ts';
import { Replica } from '../core/host/replica.ts';
import type { Cell } from '../core/records/cells.ts';
import { Records } from '../core/records/store.ts';
import type { DrawOptions } from '../core/screens/draw.ts';
import type { ScopeRef } from '../core/screens/drawn.ts';
import { Session } from '../core/session/session.ts';
import { frameOf, type DeviceState, type Frame, type PlayerApi } from './api.ts';
import { HttpLink } from './link.ts';
import { DeviceDb } from './storage.ts';

/** What the engine tells the page. */
export type EngineEvent =
  | { kind: 'changed' }
  | { kind: 'frame'; frame: Frame; updated: boolean }
  | { kind: 'state'; state: DeviceState }
  | { kind: 'say'; words: string };

const RETRY_MS = [1000, 2000, 4000, 8000, 15_000];

/** Runs a released app on a device: its records, its way to the host, and what its screens show. */
export class Engine implements PlayerApi {
  private db!: DeviceDb;
  private link!: HttpLink;
  private device!: Device;
  private session!: Session;
  private release = 0;
  private online = false;
  private tell: (e: EngineEvent) => void = () => {};
  private tries = 0;
  private retry: ReturnType<typeof setTimeout> | null = null;
  private source: EventSource | null = null;

  /** Opens the app at an address: from this device when it is there, otherwise from the host. */
  async open(name: string, tell: (e: EngineEvent) => void): Promise<Frame> {
    this.tell = tell;
    this.db = new DeviceDb(`app-${name}`);
    this.link = new HttpLink(name);
    let kept = await this.db.get<{ app: App; number: number }>('app');
    if (!kept) {
      const { app, number } = await this.link.app();
      kept = { app: checked(app), number };
      await this.db.put('app', kept);
    }
    this.release = kept.number;
    const records = new Records(kept.app);
    const replica = new Replica(records);
    records.person = (await this.db.get<string>('person')) ?? null;
    const [states, queue, at, id] = await Promise.all([
      this.db.allStates(),
      this.db.queued(),
      this.db.get<number>('at'),
      this.db.get<string>('device'),
    ]);
    replica.load(states);
    const device = id ?? newDeviceId();
    if (!id) await this.db.put('device', device);
    this.device = new Device(runOf(device), replica, this.db, this.link, queue, at ?? 0);
    this.device.onRefused = (list) =>
      this.tell({
        kind: 'say',
        words: `Not saved: ${list[0]!.reason}${list.length > 1 ? ` And ${list.length - 1} more.` : ''}`,
      });
    this.session = new Session(kept.app, records, {
      device: this.device,
      remember: (person) => this.db.put('person', person),
      mail: (m) => this.queueMail(m),
      happened: () => {},
    });
    records.subscribe(() => this.tell({ kind: 'changed' }));
    setInterval(() => records.tick(), 60_000);
    const connected = this.connect();
    // The first time there is nothing to show before the records have come; keeping them need not be waited for.
    if (states.length === 0) {
      await new Promise<void>((resolve) => {
        records.subscribe(() => resolve());
        void connected.finally(resolve);
      });
    }
    self.addEventListener('online', () => void this.connect());
    self.addEventListener('offline', () => this.report(false));
    return frameOf(kept.app);
  }

  private report(online: boolean): void {
    this.online = online;
    this.tell({ kind: 'state', state: { online, waiting: this.device.waiting, release: this.release } });
  }

  /** Sends, fetches and listens. When the host cannot be reached it is tried again, less and less often. */
  async connect(): Promise<void> {
    if (this.retry) clearTimeout(this.retry);
    this.retry = null;
    try {
      await this.device.sync();
      await this.sendMail();
      await this.refresh();
      this.tries = 0;
      this.report(true);
      this.listen();
    } catch (e) {
      this.report(false);
      if (!(e instanceof OfflineError)) this.tell({ kind: 'say', words: (e as Error).message });
      this.retry = setTimeout(() => void this.connect(), RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)]);
    }
  }

  private listen(): void {
    if (this.source && this.source.readyState !== EventSource.CLOSED) return;
    const source = new EventSource(`/api/apps/${this.link.name}/live`);
    this.source = source;
    source.addEventListener('news', (e) => {
      void this.device.receive(JSON.parse((e as MessageEvent<string>).data) as News).catch(() => this.report(false));
    });
    source.addEventListener('hello', (e) => {
      const { at, release } = JSON.parse((e as MessageEvent<string>).data) as { at: number; release: number };
      if (at !== this.device.position || this.device.waiting || !this.online) void this.connect();
      if (release !== this.release) void this.refresh().catch(() => undefined);
    });
    source.addEventListener(
      'release',
      () => void this.refresh().catch((err: Error) => this.tell({ kind: 'say', words: err.message })),
    );
    source.addEventListener('error', () => {
      this.report(false);
      source.close();
      this.retry ??= setTimeout(() => void this.connect(), RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)]);
    });
  }

  /** Takes a newer release, if there is one, without a reinstall. */
  private async refresh(): Promise<void> {
    const { app, number } = await this.link.app();
    if (number === this.release) return;
    const fresh = checked(app);
    await this.db.put('app', { app: fresh, number });
    this.release = number;
    this.session.setApp(fresh);
    this.tell({ kind: 'frame', frame: frameOf(fresh), updated: true });
    await this.device.sync();
    this.report(true);
  }

  private async queueMail(m: { id: string; to: string[]; subject: string; body: string }): Promise<void> {
    await this.db.outbox.put({ ...m, at: new Date().toISOString(), sent: 0 });
    void this.connect();
  }

  private async sendMail(): Promise<void> {
    for (const m of await this.db.outbox.where('sent').equals(0).toArray()) {
      await this.link.mail(m);
      await this.db.outbox.delete(m.id);
    }
  }

  async draw(screen: string, options: DrawOptions) {
    return this.session.draw(screen, options);
  }
  async tap(tap: Tap, scope: ScopeRef[]) {
    const effects = await this.session.tap(tap, scope);
    this.sendSoon();
    return effects;
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>) {
    const answer = await this.session.saveForm(table, record, values);
    this.sendSoon();
    return answer;
  }
  async choices(table: string, search: string) {
    return this.session.choices(table, search);
  }
  async titles(table: string, ids: string[]) {
    return this.session.titles(table, ids);
  }

  private sendSoon(): void {
    if (this.device.waiting) void this.connect();
  }
}

/** The host has checked the document when it was released; here only its format is looked at. */
function checked(app: App): App {
  if (app?.format !== FORMAT) throw new Error('The host did not send an app.');
  if (app.version > VERSION) throw new Error('This app needs a newer player. Reload the page.');
  return app;
}

expose(new Engine());
