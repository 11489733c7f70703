import type { App } from '../../core/app/schema.ts';
import type { Change } from '../../core/records/change.ts';
import { checkChange } from '../../core/host/check.ts';
import { queueAll } from '../../core/host/bring.ts';
import { askHistory } from '../../core/phone/history.ts';
import type { Phone } from '../../core/phone/phone.ts';
import { LatelyMessage } from '../../core/runs/lately.ts';
import { startsNext, wouldHaveStarted, type WouldStart } from '../../core/runs/would-start.ts';
import { MirrorsMessage } from '../../core/mirror/state.ts';
import { shownHistory, type ShownHistory } from '../../core/session/look-back.ts';
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
  | { about: 'name' }
  | { about: 'now' }
  | { about: 'unsure'; record: string };

/** The host of a released app, for its owner: to it the phone beside the work is one more device. */
export class HostConnection {
  private place: HostPlace | null = null;
  private link: HttpLink | null = null;

  constructor(
    private readonly phone: Phone,
    private readonly tell: (e: EngineEvent) => void,
  ) {}

  /** Connects to the released app. The first time, every record is sent. */
  async release(host: HostPlace, first: boolean): Promise<void> {
    this.connectTo(host);
    if (first) await queueAll(this.phone.device);
    await this.phone.refresh();
  }

  join(host: HostPlace): void {
    this.connectTo(host);
    void this.phone.connect();
  }

  private connectTo(host: HostPlace): void {
    const link = new HttpLink(host.address, host.key);
    this.place = host;
    this.link = link;
    // The document is the one that is worked on, and mails lie in an outbox of its own.
    this.phone.join({
      link,
      listen: (_said, hear, over) => link.listen({}, hear, over),
      file: (hash) => link.file(hash),
      sendable: (c: Change) => checkChange(host.app, c) === null,
      heard: (event) => event === 'mirror' && this.tell({ kind: 'mirror' }),
      say: (words) => this.tell({ kind: 'failed', words: `The released app cannot be reached: ${words}` }),
    });
  }

  leave(): void {
    this.place = null;
    this.link = null;
    this.phone.leaveHost();
  }

  /** What happened to a record, in words; null where the app is not released. */
  async history(table: string, record: string, from: number): Promise<ShownHistory | null> {
    const { link } = this;
    if (!link) return null;
    const asked = { table, record, from };
    return shownHistory(this.phone.records, asked, await askHistory(this.phone, link, asked));
  }

  /**
   * Which of the latest changes of the released app would have started a routine as it is worked on, by the trigger with
   * this place among its own; null where the app is not released, or the trigger does not look at changes.
   */
  async wouldStart(app: App, routine: string, at: number): Promise<WouldStart[] | null> {
    const { place } = this;
    const of = app.routines.find((r) => r.id === routine);
    if (!place || !of) return null;
    const { changes } = LatelyMessage.parse(await ask(`/api/apps/${place.address}/lately`, { key: place.key }));
    return wouldHaveStarted(this.phone.records, app, of, at, changes);
  }

  /** What the clock will start by a trigger of a routine as it is worked on; null for nothing. */
  async startsNext(app: App, routine: string, at: number): Promise<{ said: string; at: number } | null> {
    const of = app.routines.find((r) => r.id === routine);
    return of ? startsNext(this.phone.records, app, of, at, Date.now()) : null;
  }

  // Mirrored tables are the host's work; the owner asks and says here.

  private mirrorsPath(table = '', rest = ''): string {
    if (!this.place) throw new Error('Mirrored tables are kept by the server. Release the app first.');
    return `/api/apps/${this.place.address}/mirrors${table && `/${table}`}${rest}`;
  }
  async mirrors(): Promise<MirrorsMessage | null> {
    if (!this.place) return null;
    return MirrorsMessage.parse(await ask(this.mirrorsPath(), { key: this.place.key }));
  }
  async mirror(table: string, request: MirrorWish): Promise<void> {
    await ask(this.mirrorsPath(table), { method: 'PUT', json: request, key: this.place?.key });
  }
  async unmirror(table: string): Promise<void> {
    await ask(this.mirrorsPath(table), { method: 'DELETE', key: this.place?.key });
  }
  async settle(table: string, message: MirrorAnswer): Promise<void> {
    await ask(this.mirrorsPath(table, '/settle'), { method: 'POST', json: message, key: this.place?.key });
  }
}
