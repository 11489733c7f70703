import type { App } from '../../core/app/schema.ts';
import type { Change } from '../../core/host/change.ts';
import { checkChange } from '../../core/host/check.ts';
import { OfflineError, type Device } from '../../core/host/device.ts';
import type { News } from '../../core/host/host.ts';
import { HttpLink } from '../../player/link.ts';
import type { EngineEvent } from './engine.ts';

/** Where an app is released, with the key of its owner and the document that was released there. */
export interface HostPlace {
  address: string;
  key: string;
  app: App;
}

/** The studio's way to the host of a released app: there it is one more device. */
export class HostConnection {
  private link: HttpLink | null = null;
  private source: EventSource | null = null;
  private retry: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly device: Device,
    private readonly tell: (e: EngineEvent) => void,
  ) {}

  /** Connects to the released app. The first time, every record is sent. */
  async release(host: HostPlace, first: boolean): Promise<void> {
    this.join(host, false);
    if (first) await this.device.queueAll();
    await this.connect(true);
  }

  leave(): void {
    this.source?.close();
    this.source = null;
    this.link = null;
    if (this.retry) clearTimeout(this.retry);
    this.device.connect(null);
  }

  join(host: HostPlace, now = true): void {
    this.link = new HttpLink(host.address, host.key);
    this.device.connect(this.link, (c: Change) => checkChange(host.app, c) === null);
    if (now) void this.connect();
  }

  /** Sends what waits, when there is a host. */
  sendSoon(): void {
    if (this.link && this.device.waiting) void this.connect();
  }

  private async connect(strict = false): Promise<void> {
    if (this.retry) clearTimeout(this.retry);
    this.retry = null;
    try {
      await this.device.sync();
      this.tell({ kind: 'host', online: true, waiting: this.device.waiting });
      this.listen();
    } catch (e) {
      this.tell({ kind: 'host', online: false, waiting: this.device.waiting });
      if (strict) throw e;
      if (e instanceof OfflineError) this.retry = setTimeout(() => void this.connect(), 4000);
      else this.tell({ kind: 'failed', words: `The released app cannot be reached: ${(e as Error).message}` });
    }
  }

  private listen(): void {
    if (!this.link || (this.source && this.source.readyState !== EventSource.CLOSED)) return;
    const source = this.link.live();
    this.source = source;
    source.addEventListener(
      'news',
      (e) => void this.device.receive(JSON.parse((e as MessageEvent<string>).data) as News).catch(() => undefined),
    );
    source.addEventListener('hello', (e) => {
      if ((JSON.parse((e as MessageEvent<string>).data) as { at: number }).at !== this.device.position)
        void this.connect();
    });
    source.addEventListener('error', () => {
      source.close();
      this.tell({ kind: 'host', online: false, waiting: this.device.waiting });
      if (this.link) this.retry ??= setTimeout(() => void this.connect(), 3000);
    });
  }
}
