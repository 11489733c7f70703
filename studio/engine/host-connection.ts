import type { App } from '../../core/app/schema.ts';
import type { Change } from '../../core/records/change.ts';
import { checkChange } from '../../core/host/check.ts';
import { queueAll } from '../../core/host/bring.ts';
import { type Device } from '../../core/host/device.ts';
import { deviceClock } from '../../core/document/time.ts';
import type { Sending } from '../../core/host/link.ts';
import { Way } from '../../core/phone/way.ts';
import type { News } from '../../core/host/protocol.ts';
import { MirrorsMessage } from '../../core/mirror/state.ts';
import { ask, HttpLink } from '../../player/link.ts';
import type { EngineEvent } from './events.ts';

/** Where an app is released, with the key of its owner and the document that was released there. */
export interface HostPlace {
  address: string;
  key: string;
  app: App;
}

/** How a table is to be mirrored. */
export interface MirrorWish {
  file: string;
  sheet: string | null;
  first: 'file' | 'app';
  create: boolean;
}
export type MirrorAnswer =
  | { about: 'conflict'; id: string; take: 'other' | 'leave' }
  | { about: 'rows'; take: 'remove' | 'write again' }
  | { about: 'name' };

/** The studio's way to the host of a released app: there it is one more device. */
export class HostConnection {
  private place: HostPlace | null = null;
  private link: HttpLink | null = null;
  private way: Way | null = null;
  private sending: Sending | null = null;

  constructor(
    private readonly device: Device,
    private readonly tell: (e: EngineEvent) => void,
  ) {
    device.onQueued = () => this.sendSoon();
    device.onSending = (sending) => {
      this.sending = sending;
      this.report(true);
    };
  }

  /** Connects to the released app. The first time, every record is sent. */
  async release(host: HostPlace, first: boolean): Promise<void> {
    this.join(host, false);
    if (first) await queueAll(this.device);
    await this.refresh();
  }

  // Mirrored tables are the host's work; the owner asks and says here.

  private mirrorsPath(table = '', rest = ''): string {
    if (!this.place) throw new Error('Mirrored tables are kept by the host. Release the app first.');
    return `/api/apps/${this.place.address}/mirrors${table && `/${table}`}${rest}`;
  }
  async mirrors(): Promise<MirrorsMessage | null> {
    if (!this.place) return null;
    return MirrorsMessage.parse(await ask(this.mirrorsPath(), { key: this.place.key }));
  }
  mirror(table: string, request: MirrorWish): Promise<unknown> {
    return ask(this.mirrorsPath(table), { method: 'PUT', json: request, key: this.place?.key });
  }
  unmirror(table: string): Promise<unknown> {
    return ask(this.mirrorsPath(table), { method: 'DELETE', key: this.place?.key });
  }
  settle(table: string, message: MirrorAnswer): Promise<unknown> {
    return ask(this.mirrorsPath(table, '/settle'), { method: 'POST', json: message, key: this.place?.key });
  }

  /** A file that records hold, from the host; null when it cannot be had. */
  async file(hash: string): Promise<Blob | null> {
    return (await this.link?.file(hash).catch(() => null)) ?? null;
  }

  leave(): void {
    this.place = null;
    this.way?.close();
    this.way = null;
    this.link = null;
    this.device.connect(null);
  }

  join(host: HostPlace, now = true): void {
    this.way?.close();
    const link = new HttpLink(host.address, host.key);
    this.place = host;
    this.link = link;
    this.device.connect(link, (c: Change) => checkChange(host.app, c) === null);
    this.way = new Way(
      {
        // The document is this one, and its mails lie in its own outbox.
        refresh: async () => undefined,
        sendMail: async () => undefined,
        sync: () => this.device.sync(),
        listen: (hear, over) => link.listen({}, hear, over),
        heard: (event, data) => this.heard(event, data),
        report: (online) => this.report(online),
        say: (words) => this.tell({ kind: 'failed', words: `The released app cannot be reached: ${words}` }),
        giveWay: async () => this.report(false),
      },
      deviceClock,
    );
    if (now) void this.way.connect();
  }

  private heard(event: string, data: unknown): void {
    if (event === 'news') void this.device.receive(data as News).catch((e: Error) => this.way?.failed(e));
    else if (event === 'mirror') this.tell({ kind: 'mirror' });
    else if (event === 'hello' && (data as { at: number }).at !== this.device.position) void this.way?.connect();
  }

  /** Sends and fetches now. Rejects in words when the host cannot be reached; without one there is nothing to do. */
  async refresh(): Promise<void> {
    const wrong = await this.way?.connect();
    if (wrong) throw wrong;
  }

  private sendSoon(): void {
    if (this.device.waiting && !this.holds) void this.way?.connect();
  }

  private holds = false;
  /** Sends nothing of its own accord until some work is done, or has been taken back. */
  async holding<T>(work: () => Promise<T>): Promise<T> {
    this.holds = true;
    try {
      return await work();
    } finally {
      this.holds = false;
      this.sendSoon();
    }
  }

  private report(online: boolean): void {
    this.tell({ kind: 'host', online, waiting: this.device.waiting, sending: this.sending });
  }
}
