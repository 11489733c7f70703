import { nameOfWho, type Who } from '../access/access.ts';
import { pause, type Clock } from '../document/time.ts';
import { isForGood, NeverTakenError, OfflineError, type HostLink } from '../host/link.ts';
import type { Asked, CatchUp, Compared, Have, Receipt } from '../host/protocol.ts';
import { sendPieces, type PieceWay } from '../host/send-pieces.ts';
import type { KeptFile } from '../fields/kept-address.ts';
import type { Change } from '../records/change.ts';
import type { MemoryFiles } from '../released/memory.ts';
import type { SentMessage } from '../released/messages.ts';
import { Refused } from '../document/refused.ts';
import type { Happening } from '../released/ports.ts';
import type { ReleasedApp, SaidToBe } from '../released/released.ts';
import type { HostWork } from '../runs/host-work.ts';
import type { OpenQuestion } from '../runs/questions.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import type { Random } from './random.ts';

/**
 * How the way between a phone and its host is: as it should be; slow, each way by another time; none; one on which what is
 * asked arrives and its answer does not; one on which what is sent arrives twice.
 */
export type Network = 'on' | 'slow' | 'off' | 'answers lost' | 'twice';

/** The slowest way takes so long, in milliseconds. */
const SLOWEST_MS = 4000;

const goneOut = (): OfflineError => new OfflineError('The host has gone out.');

const never = (): Promise<void> => new Promise(() => undefined);

/** What travels is written and read as on a real way: nothing is shared by both ends. */
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/**
 * Hears what leaves the host for a phone, at that moment; of an answer also the number of the last change that the host
 * had when it was asked.
 */
export type Spy = (
  what: 'receipt' | 'catch-up' | 'compared' | 'news',
  value: unknown,
  who: Who,
  asked?: number,
) => void;

/** What is on the other side of a way. */
export interface WireWorld {
  readonly released: ReleasedApp;
  readonly clock: Clock;
  readonly random: Random;
  /** The files of the host. */
  readonly files: MemoryFiles;
  /** What the host does by itself; null or absent where it does nothing. */
  readonly work?: HostWork | null;
  readonly options?: { doors?: boolean };
}

/** What a phone hears, from when it begins to listen. */
interface Stream {
  /** Who listens, and who they say that they are. */
  name: string;
  person: string;
  /** The last change that it knows of, and the view; it begins where these are when it is open. */
  at: number;
  view: string | undefined;
  isOpen: boolean;
  /** What was asked before is not asked here, in milliseconds since 1970. */
  since: number;
  tell(event: string, data: unknown): void;
  over(): void;
  close(): void;
}

/** The way of one phone to a host. */
export class Wire implements HostLink {
  private readonly streams = new Set<Stream>();

  constructor(
    private readonly app: () => ReleasedApp,
    /** Who uses the phone, as the host knows. */
    readonly who: () => Who,
    private readonly world: WireWorld,
    private readonly spy: Spy = () => {},
    private state: Network = 'on',
  ) {}

  private get clock(): Clock {
    return this.world.clock;
  }

  get network(): Network {
    return this.state;
  }

  set network(now: Network) {
    this.state = now;
    if (now === 'off') this.cut();
  }

  /** Ends every stream, as when the host goes down or the network changes. */
  cut(): void {
    const cut = Array.from(this.streams);
    for (const s of cut) {
      s.close();
      s.over();
    }
  }

  push(changes: Change[]): Promise<Receipt> {
    return this.ask('receipt', changes, (c) => this.app().accept(c, this.who()));
  }

  pull(asked: Asked): Promise<CatchUp> {
    return this.ask('catch-up', asked, (a) => this.app().catchUp(a, this.who()));
  }

  compare(have: Have): Promise<Compared> {
    return this.ask('compared', have, (h) => this.app().compare(h, this.who()));
  }

  async sendFile(file: KeptFile, content: Blob, heard: (bytes: number) => void): Promise<void> {
    const { hash, size } = file;
    const way: PieceWay = {
      arrived: () => this.ask(null, hash, (h) => this.app().arrival(h)),
      send: async (offset, part) => {
        const bytes = new Uint8Array(await part.arrayBuffer());
        const piece = { hash, size, offset, content: bytes, from: 'the world' };
        return this.ask(null, null, () => this.app().takePiece(piece));
      },
    };
    return sendPieces(way, size, content, heard);
  }

  /** A file that records hold; null where it is not there, or not for this person. */
  async file(hash: string): Promise<Blob | null> {
    await this.mustBe();
    if (!this.app().mayReadFile(this.who(), hash)) return null;
    const content = await this.world.files.content(hash);
    return content && new Blob([new Uint8Array(content)]);
  }

  /** Asks a service by the host. */
  asks(message: AskedMessage): Promise<ServiceAnswer> {
    return this.ask(null, message, (m) => this.app().asks(m, this.who()));
  }

  /** The history of a record, and the answers to what people are asked. */
  sends(path: string, init?: { method: 'POST'; json: unknown }): Promise<unknown> {
    const { work } = this.world;
    const past = /^\/history\/([^/]+)\/([^?]+)\?from=(\d+)$/.exec(path);
    return this.ask<unknown, unknown>(null, init?.json ?? null, async (json) => {
      if (path === '/answers' && work) return work.answer(json, this.who());
      if (!past) throw new Refused(404, 'There is nothing at this address.');
      const [, table = '', record = '', from] = past;
      return this.app().history({ table, record: decodeURIComponent(record), from: Number(from) }, this.who());
    });
  }

  /** Sends a message out to people. */
  send(message: SentMessage): Promise<void> {
    return this.ask(null, message, (m) => this.app().send(m));
  }

  /** Tells what happens at the host, beginning with where it stands; `over` when the way has gone. Gives the way to end it. */
  listen(said: SaidToBe, hear: (event: string, data: unknown) => void, over: () => void): () => void {
    if (this.state === 'off') return this.clock.after(0, over);
    const who = this.who();
    const app = this.app();
    let last: Promise<unknown> = Promise.resolve();
    const stream: Stream = {
      name: nameOfWho(who),
      person: said.person,
      ...app.listen(who, true),
      isOpen: false,
      since: Infinity,
      over,
      // What is told on one stream comes in its order.
      tell: (event, data) => {
        const told = copy(data);
        last = last.then(() => this.delay()).then(() => this.streams.has(stream) && hear(event, told));
      },
      close: () => {
        this.streams.delete(stream);
        if (!this.streams.size) app.listen(who, false);
      },
    };
    this.streams.add(stream);
    void app.listensFor(said).then((heard) => {
      const { at, view } = stream;
      stream.isOpen = true;
      const now = new Date(this.clock.now()).toISOString();
      stream.tell('hello', { at, view, release: 1, now, devices: heard?.devices ?? 0 });
      for (const n of heard?.missed ?? []) stream.tell('notice', n);
      if (!heard) return;
      stream.since = heard.since;
      const runs = this.world.work?.runs;
      if (runs?.works) stream.tell('asks', runs.waits.of(said.person, heard.since));
    });
    return () => stream.close();
  }

  /** Takes what the host tells those who listen to it. */
  hear(what: Happening): void {
    for (const s of this.streams) {
      if (what.kind === 'news' && what.to.includes(s.name)) {
        s.at = what.news.at;
        s.view = what.news.view;
        if (!s.isOpen) continue;
        this.spy('news', what.news, this.who());
        s.tell('news', what.news);
      } else if (what.kind === 'notice' && what.notice.to.includes(s.person)) s.tell('notice', what.notice);
    }
  }

  /** Tells what people are asked now. */
  asked(of: Readonly<Record<string, readonly OpenQuestion[]>>): void {
    for (const s of this.streams)
      if (Object.hasOwn(of, s.person))
        s.tell(
          'asks',
          of[s.person]!.filter((q) => q.at >= s.since),
        );
  }

  /** The host lets itself be heard. */
  beat(): void {
    for (const s of this.streams) if (s.isOpen) s.tell('beat', null);
  }

  private async delay(): Promise<void> {
    if (this.state === 'slow') await pause(this.clock, this.world.random.below(SLOWEST_MS));
  }

  /** The phone has gone out: nothing reaches it any more, and nothing is sent that was not under way. */
  goOut(): void {
    this.out = true;
    for (const s of this.streams) s.close();
  }
  private out = false;

  private async ask<A, T>(what: Parameters<Spy>[0] | null, asked: A, work: (asked: A) => Promise<T>): Promise<T> {
    const sent = copy(asked);
    await this.mustBe();
    // Whoever is not let in has no way to the app: it is the first that a server looks at.
    const comesIn = async (): Promise<void> => {
      if (this.world.options?.doors) this.app().comingIn.mustBeIn(this.who());
    };
    const app = this.app();
    const { position } = app.host;
    const did = async (again: A): Promise<T> => {
      try {
        await comesIn();
        return await work(again);
      } catch (e) {
        if (this.app() !== app) throw goneOut();
        throw e instanceof Refused && isForGood(e.status) ? new NeverTakenError(e.message) : e;
      }
    };
    let answer = await did(sent);
    if (this.state === 'twice') answer = await did(copy(asked));
    // Whoever asked one that has gone out hears nothing, though it may have kept what it was sent.
    if (this.app() !== app) throw goneOut();
    if (this.state === 'answers lost') throw new OfflineError('The answer was lost.');
    if (what) this.spy(what, answer, this.who(), position);
    const given = answer === undefined ? answer : copy(answer);
    await this.mustBe();
    return given;
  }

  /** Goes one way. Rejects with an {@link OfflineError} when there is none, or none any more. */
  private async mustBe(): Promise<void> {
    if (this.out) return never();
    if (this.state === 'off') throw new OfflineError('There is no network.');
    await this.delay();
    if (this.out) return never();
    if ((this.state as Network) === 'off') throw new OfflineError('There is no network any more.');
  }
}
