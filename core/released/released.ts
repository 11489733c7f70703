import type { Who } from '../access/access.ts';
import { asDocumented } from '../access/documented.ts';
import type { App } from '../app/schema.ts';
import { isMailAddress } from '../document/addresses.ts';
import { every } from '../document/time.ts';
import { compose } from '../formats/eml.ts';
import { Host, type LogPort } from '../host/host.ts';
import type { Asked, CatchUp, Compared, Have, Receipt } from '../host/protocol.ts';
import type { Change } from '../records/change.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { AskedServices } from './asked-services.ts';
import { Audiences } from './audiences.ts';
import { ComingIn } from './coming-in.ts';
import { keptAbout, type KeptAbout } from './kept-about.ts';
import {
  beginErasing,
  erasable,
  Erasing,
  erasingDrafts,
  goOnErasing,
  withoutErased,
  type Erasable,
} from './erasing.ts';
import { historyOf, type HistoryAsked, type HistoryMessage } from './history.ts';
import { KeptFiles, type Arrival } from './kept-files.ts';
import { Listeners } from './listeners.ts';
import type { KeptMessage, SentMessage } from './messages.ts';
import { Outbox, type OutboxEntry } from './outbox.ts';
import type { KeptHost, ReleasedPorts, ReleasedWatch } from './ports.ts';
import { Refused } from '../document/refused.ts';

/** How often what depends on the time is looked at again, in milliseconds. */
const TICK_MS = 60_000;

/** Who uses a device, as it says itself: until people sign in nobody has proven who they are. */
export interface SaidToBe {
  person: string;
  /** When the last notice was heard, ISO 8601; empty for never. */
  heard: string;
  /** A secret of the device, by which it is known again. */
  device: string;
}

/** What a device hears for whoever it says uses it. */
export interface HeardBy {
  /** Devices that say that they are used by the same person. */
  devices: number;
  missed: KeptMessage[];
  /** What was asked before is not asked here, in milliseconds since 1970. */
  since: number;
}

/** A piece of a file, from an address of the network. */
export interface Piece {
  hash: string;
  /** Bytes of the whole file. */
  size: number;
  offset: number;
  content: Uint8Array;
  from: string;
}

/**
 * A released app, whole: its records, the files that they hold, what goes out from it to people, and whom it tells what
 * happens. Everything that decides anything is here; where it runs gives it a disk, a clock and whoever asks, with who
 * they are. It needs no server.
 */
export class ReleasedApp {
  readonly host: Host;
  private readonly files: KeptFiles;
  private readonly messages: Outbox;
  private readonly listeners: Listeners;
  private readonly audiences: Audiences;
  private readonly services: AskedServices;
  /** Whom it lets in. */
  readonly comingIn: ComingIn;
  private readonly untick: () => void;
  private readonly watch: ReleasedWatch | null;

  constructor(
    private app: App,
    kept: KeptHost | null,
    private readonly ports: ReleasedPorts,
  ) {
    const { clock, log, files, messages, listeners, access = asDocumented } = ports;
    const now = (): number => this.watch?.asOf ?? clock.now();
    const keep: LogPort = {
      append: async (changes) => {
        await log.append(changes);
        if (log.isLong) void this.fold();
      },
    };
    this.host = new Host(app, keep, access, now, files);
    this.watch = ports.watch?.(this.host) ?? null;
    this.host.watch = this.watch;
    if (kept) this.host.restore(kept.states, kept.changes, kept.at, kept);
    this.comingIn = new ComingIn(() => this.app, this.host, now);
    this.files = new KeptFiles(files, ports.mostFileBytes, now);
    this.messages = new Outbox(messages, now);
    this.listeners = new Listeners(listeners, now);
    this.services = new AskedServices(() => this.app, ports.services, clock);
    this.untick = every(clock, TICK_MS, () => this.host.tick());
    this.audiences = new Audiences(this.host, (to, news) => ports.tell({ kind: 'news', to, news }), clock);
  }

  /** Takes the document of a newer release. */
  setApp(app: App): void {
    if (!app.access !== !this.app.access)
      throw new Error('An app that is open or has rules from now on is started anew.');
    this.app = app;
    this.host.setApp(app);
  }

  // Records

  /** Takes changes, as {@link Host.accept} does. */
  accept(changes: readonly Change[], who: Who): Promise<Receipt> {
    return this.host.accept(changes, who);
  }
  catchUp(asked: Asked, who: Who): Promise<CatchUp> {
    return this.host.catchUp(asked, who);
  }
  async compare(have: Have, who: Who): Promise<Compared> {
    if (this.host.access.isOpen) throw new Refused(409, 'This app is open to all: ask for its changes instead.');
    return this.host.compare(have, who);
  }

  /** While the app goes on: changes are held up only while a new part of the log is begun. */
  private async fold(): Promise<void> {
    const { log } = this.ports;
    try {
      await this.turnLog();
      await log.fold(this.host.snapshot());
      await this.sweep();
    } catch (e) {
      this.say(`Its log cannot be folded now: ${(e as Error).message}`);
    }
  }

  /** Begins a new part of the log. Whatever the changes before it have started is kept then. */
  private async turnLog(): Promise<void> {
    await this.host.pause(async () => {
      await this.watch?.settled();
      await this.ports.log.turn(this.host.position);
    });
  }

  // Files

  /** How far a file has come. */
  arrival(hash: string): Promise<Arrival> {
    return this.files.arrival(hash);
  }
  /** Takes a piece of a file; throws a {@link Refused} where it does not fit or there is no room. */
  takePiece({ hash, size, offset, content, from }: Piece): Promise<Arrival> {
    return this.files.take(hash, size, offset, content, from);
  }
  /** Is the file here, and does a record that this person may read hold it? */
  mayReadFile(who: Who, hash: string): boolean {
    return this.ports.files.sizeOf(hash) !== null && this.host.mayReadFile(who, hash);
  }

  /** What happened to a record, as far as somebody may look back at it. Throws a {@link Refused} where they may not. */
  history(asked: HistoryAsked, who: Who): Promise<HistoryMessage> {
    const { log, files } = this.ports;
    return historyOf({ app: this.app, host: this.host, files }, (record) => log.changesOf(record), asked, who);
  }

  /** What is kept about a person, as far as somebody may read it. */
  keptAbout(person: string, who: Who): KeptAbout {
    return keptAbout(this.app, this.host, person, who);
  }

  /** Lets go of files that no record has held for a day. */
  async sweep(): Promise<void> {
    const { host } = this;
    await this.files
      .sweep(async (hash, drop) => {
        if (host.usesFile(hash) || this.ports.needsFile?.(hash)) return;
        await host.pause(async () => (host.usesFile(hash) ? undefined : drop()));
      })
      .catch((e: Error) => this.say(`Its files cannot be looked through: ${e.message}`));
  }

  // Somebody is erased

  /** What erasing somebody would take. Throws a {@link Refused} for those who may not. */
  erasable(person: string, who: Who): Erasable {
    return erasable({ app: this.app, host: this.host, person, who });
  }

  /**
   * Erases somebody with the records of these tables that lead to them. Resolves when nothing of them is left here; what
   * was begun is gone on with after a stop.
   */
  async erase(person: string, tables: readonly string[], who: Who): Promise<void> {
    const { app, host } = this;
    let erasing = beginErasing({ app, host, person, who }, tables);
    const keep = (): Promise<void> => this.ports.erasing.write(JSON.stringify(erasing));
    await keep();
    await host.letGo(() => {
      if (who.kind === 'owner') erasing = goOnErasing(app, host, erasing, tables);
      return erasingDrafts(host, erasing);
    });
    await keep();
    await this.finishErasing(erasing);
  }

  /** Takes somebody out of everything that is kept beside the records. */
  private async finishErasing(erasing: Erasing): Promise<void> {
    const { log, files, erasing: port } = this.ports;
    await this.turnLog();
    await log.fold(this.host.snapshot());
    await log.rewrite(withoutErased(erasing));
    const gone = [erasing.mail, erasing.person, erasing.name].filter(Boolean);
    const freed = (await this.ports.forget?.(gone)) ?? [];
    for (const hash of [...erasing.files, ...freed]) if (!this.host.usesFile(hash)) await files.drop(hash, true);
    await this.messages.erase(erasing.mail, erasing.person);
    await this.listeners.forget([erasing.mail, erasing.person, erasing.name]);
    await port.write('');
  }

  /** Goes on with what a stop has cut off. */
  async goOn(): Promise<void> {
    const text = await this.ports.erasing.read();
    if (!text) return;
    const erasing = Erasing.parse(JSON.parse(text));
    const state = this.host.replica.state(erasing.person);
    if (state && state.erased === undefined) await this.host.letGo(() => erasingDrafts(this.host, erasing));
    await this.finishErasing(erasing);
  }

  // What goes out

  /**
   * Puts a message into the outbox, once for each id; a notice goes on to the people it is for. `automatic`: nobody has
   * written it; `always`: also where the app has sent all the mails that it may in a day.
   */
  async send(message: SentMessage, { automatic = false, always = false } = {}): Promise<void> {
    const now = new Date(this.ports.clock.now());
    if (message.kind) {
      const { id, kind, subject, body } = message;
      const to = kind === 'notice' ? this.reach(message.people ?? [], message.to) : message.to;
      const notice: KeptMessage = { id, kind, to, subject, body, at: now.toISOString() };
      const isNew = await this.messages.add(id, 'json', JSON.stringify(notice));
      if (isNew && kind === 'notice') this.ports.tell({ kind: 'notice', notice });
      if (isNew && kind === 'text message') this.ports.texted?.(id);
      return;
    }
    const bad = message.to.find((a) => !isMailAddress(a));
    if (bad) throw new Refused(422, `“${bad}” is not a mail address.`);
    await this.messages.open();
    if (!always && this.mailsOfDay >= this.mostMails && !(await this.messages.has(message.id, 'eml')))
      throw new Refused(429, `This app has sent the ${this.mostMails} mails that it may in 24 hours. This one waits.`);
    const from = { name: this.app.name, address: this.ports.address };
    const { id, to, subject, answers } = message;
    const domain = this.ports.address.split('@')[1];
    await this.ports.sent?.({ message: `${id}@${domain}`, to, subject, answers });
    const isNew = await this.messages.add(id, 'eml', compose({ ...message, from, date: now, automatic }));
    if (isNew) this.ports.mailed?.(id);
  }

  /**
   * By which names people are told something, by their records and by what they are called. Where people sign in it is the
   * address that they did it with; who was meant and is none of them stays.
   */
  reach(people: readonly string[], named: readonly string[]): string[] {
    const mails = this.app.access?.mail ? this.comingIn.mailsOf(people, named) : [];
    return mails.length ? mails : [...named];
  }

  /** Mails that left it in the 24 hours up to now. */
  get mailsOfDay(): number {
    return this.messages.mailsOfDay;
  }
  private get mostMails(): number {
    return this.ports.mostMails ?? Infinity;
  }

  /** The newest messages of the outbox, and how many older ones there are. */
  outbox(): Promise<{ messages: OutboxEntry[]; more: number }> {
    return this.messages.newest();
  }

  // Services

  /** Asks a service for somebody, and takes out of its answer what the app wants. */
  asks(asked: AskedMessage, who: Who): Promise<ServiceAnswer> {
    return this.services.ask(asked, who.person);
  }

  // Who listens

  /** Begins or ends to tell somebody what happens. Gives the number of the last change before what is told, and their view. */
  listen(who: Who, on: boolean): { at: number; view: string | undefined } {
    const view = on ? this.audiences.begin(who) : undefined;
    if (!on) this.audiences.end(who);
    return { at: this.host.position, view };
  }

  /**
   * A device listens for whoever it says uses it. Gives how many devices say the same, and the notices since it last heard
   * one; null where it says nobody, or has no secret. Nobody hears what was sent before they said who they are.
   */
  async listensFor({ person, heard, device }: SaidToBe): Promise<HeardBy | null> {
    if (!person || !device) return null;
    const { since, devices } = await this.listeners.listens(person, device);
    const from = heard && (heard > since ? heard : since);
    const missed = from ? await this.messages.notices(person, from) : [];
    // Whoever has signed in is whom they are said to be, on every device.
    return { devices, missed, since: this.app.access?.mail ? 0 : Date.parse(since) };
  }

  /** The latest notices for a person since a time (ISO 8601). */
  noticesFor(person: string, since: string): Promise<KeptMessage[]> {
    return this.messages.notices(person, since);
  }

  private say(words: string): void {
    this.ports.tell({ kind: 'said', words });
  }

  /** Ends it. What was sent before is answered before; what comes after is refused with this. */
  async close(refusal: Refused): Promise<void> {
    this.untick();
    await this.host.close(refusal);
    this.audiences.close();
  }
}
