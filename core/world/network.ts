import type { Who } from '../access/access.ts';
import { pause, type Clock } from '../document/time.ts';
import type { Host } from '../host/host.ts';
import { OfflineError, type HostLink } from '../host/link.ts';
import type { Asked, CatchUp, Compared, Have, News, Receipt } from '../host/protocol.ts';
import type { KeptFile } from '../fields/kept-address.ts';
import type { Change } from '../records/change.ts';
import type { Random } from './random.ts';

/**
 * How the way between a phone and its host is: as it should be; slow, each way by another time; none; one on which what is
 * asked arrives and its answer does not; one on which what is sent arrives twice.
 */
export type Network = 'on' | 'slow' | 'off' | 'answers lost' | 'twice';

/** The slowest way takes so long, in milliseconds. */
const SLOWEST_MS = 4000;

const never = (): Promise<void> => new Promise(() => undefined);

/** What travels is written and read as on a real way: nothing is shared by both ends. */
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Hears what leaves the host for a phone, at that moment. */
export type Spy = (what: 'receipt' | 'catch-up' | 'compared' | 'news', value: unknown, who: Who) => void;

/** The way of one phone to a host. */
export class Wire implements HostLink {
  private readonly streams = new Set<{ over(): void; close(): void }>();

  constructor(
    private readonly host: () => Host,
    /** Who uses the phone, as the host knows. */
    readonly who: () => Who,
    private readonly clock: Clock,
    private readonly random: Random,
    /** Takes a file at the host; throws why it does not. */
    private readonly takes: (file: KeptFile, content: Blob) => void,
    private readonly spy: Spy = () => {},
    private state: Network = 'on',
  ) {}

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
    return this.ask('receipt', changes, (c) => this.host().accept(c, this.who()));
  }

  pull(asked: Asked): Promise<CatchUp> {
    return this.ask('catch-up', asked, (a) => this.host().catchUp(a, this.who()));
  }

  compare(have: Have): Promise<Compared> {
    return this.ask('compared', have, (h) => this.host().compare(h, this.who()));
  }

  async sendFile(file: KeptFile, content: Blob, sent: (bytes: number) => void): Promise<void> {
    await this.mustBe();
    this.takes(file, content);
    if (this.state === 'answers lost') throw new OfflineError('The answer was lost.');
    sent(content.size);
  }

  /** Tells what happens at the host, beginning with where it stands; `over` when the way has gone. Gives the way to end it. */
  listen(hear: (event: string, data: unknown) => void, over: () => void): () => void {
    const who = this.who();
    if (this.state === 'off') {
      const cancel = this.clock.after(0, over);
      return cancel;
    }
    const host = this.host();
    let last: Promise<unknown> = Promise.resolve();
    const later = (what: () => void): void => {
      // What is told on one stream comes in its order.
      last = last.then(() => this.delay()).then(() => this.streams.has(stream) && what());
    };
    const stop = host.subscribe(who, (news: News) => {
      this.spy('news', news, who);
      const told = copy(news);
      later(() => hear('news', told));
    });
    const stream = {
      over,
      close: (): void => {
        stop();
        this.streams.delete(stream);
      },
    };
    this.streams.add(stream);
    const hello = { at: host.position, view: host.viewOf(who) };
    later(() => hear('hello', hello));
    return () => stream.close();
  }

  private async delay(): Promise<void> {
    if (this.state === 'slow') await pause(this.clock, this.random.below(SLOWEST_MS));
  }

  /** The phone has gone out: nothing reaches it any more, and nothing is sent that was not under way. */
  goOut(): void {
    this.out = true;
    for (const s of this.streams) s.close();
  }
  private out = false;

  private async ask<A, T>(what: Parameters<Spy>[0], asked: A, work: (asked: A) => Promise<T> | T): Promise<T> {
    const sent = copy(asked);
    await this.mustBe();
    let answer = await work(sent);
    if (this.state === 'twice') answer = await work(copy(asked));
    if (this.state === 'answers lost') throw new OfflineError('The answer was lost.');
    this.spy(what, answer, this.who());
    const given = copy(answer);
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
