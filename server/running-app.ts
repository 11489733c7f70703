import { createHash } from 'node:crypto';
import { proxy, releaseProxy, type Remote } from 'comlink';
import { nameOfWho, type Who } from '../core/access/access.ts';
import type { AppRunner } from './app-runner.ts';
import type { PushPort, RelayPort, Running, ServicesPort, TextPort } from './running.ts';
import type { AppNews } from './thread-messages.ts';
import type { Stream } from './live.ts';
import type { KeptMessage } from '../core/released/messages.ts';
import { Refused } from '../core/document/refused.ts';
import type { OpenQuestion } from '../core/runs/questions.ts';
import type { OwnersPort } from './sheet-owners.ts';
import type { Thread } from './threads.ts';

/** How often it is looked whether a thread still answers. */
const LOOK_MS = 500;

/** What an app was asked for, when its thread was ended for taking too long. */
type Suspects = Map<string, number>;
/** A push that was under way so often when its app was ended is never taken. */
const MOST_TIMES = 2;

const hashOf = (body: Uint8Array): string => createHash('sha256').update(body).digest('base64');

/** A push that waits for its answer. */
interface Waiting {
  body: Uint8Array;
  who: Who;
  resolve(receipt: string): void;
  reject(why: unknown): void;
}

/** The devices of one person that listen. */
interface Listening {
  streams: Set<Stream>;
  /** The view of the records that they hear of; none where the app is open. */
  view: string | undefined;
  /** How many listen, or are about to. */
  wanted: number;
}

/** What an app asks of the server around it. */
export interface WaysOut {
  owners: OwnersPort;
  services: ServicesPort;
  relay: RelayPort | null;
  texts: TextPort | null;
  push: PushPort;
}

/** Hears that an app is stopped, why, and when nothing of it runs any more. */
type Gone = (app: RunningApp, why: string, ended: Promise<void>) => void;

/** A released app that runs in a thread, as the server asks it. */
export class RunningApp {
  /** Number of the last change that is known here. */
  at = 0;
  lastUsed = Date.now();
  follows = false;
  /** Who listens, by name. */
  private readonly listening = new Map<string, Listening>();
  private readonly people = new Map<Stream, { person: string; since: number }>();
  private readonly pushes = new Set<Uint8Array>();
  /** Who waits for an answer. */
  private readonly asking = new Set<(why: Refused) => void>();
  private waiting: Waiting[] = [];
  private ended: Refused | null = null;
  private over = false;
  private why = '';
  /** Stops hearing of the end of the thread. */
  private deaf: () => void = () => {};
  private watch: ReturnType<typeof setInterval> | null = null;

  private constructor(
    private readonly name: string,
    private readonly thread: Thread,
    private readonly app: Remote<AppRunner>,
    private readonly suspects: Suspects,
    private readonly stuckMs: number,
  ) {}

  /**
   * Starts an app in a thread. One that does one thing for more than `stuckMs` is ended; `gone` hears when it has ended
   * without being told to.
   */
  static async start(
    thread: Thread,
    running: Running,
    { owners, services, relay, texts, push }: WaysOut,
    { suspects, stuckMs }: { suspects: Suspects; stuckMs: number },
    gone: Gone,
  ): Promise<RunningApp> {
    const app = (await thread.api.newApp()) as unknown as Remote<AppRunner>;
    const made = new RunningApp(running.name, thread, app, suspects, stuckMs);
    made.deaf = thread.onEnd((error) => {
      if (made.over) return;
      const full = (error as NodeJS.ErrnoException | null)?.code === 'ERR_WORKER_OUT_OF_MEMORY';
      made.stop(
        full ? 'it needs more memory than an app may have' : `its thread ended: ${error?.message ?? 'unforeseen'}`,
      );
      gone(made, made.why, Promise.resolve());
    });
    await made.ask((a) =>
      a.open(
        running,
        proxy(owners),
        proxy(services),
        relay && proxy(relay),
        proxy(push),
        texts && proxy(texts),
        proxy((news: AppNews) => made.hear(news)),
      ),
    );
    made.at = await made.ask((a) => a.at());
    made.follows = await made.ask((a) => a.follows());
    made.keepWatch(gone);
    return made;
  }

  /** Looks whether the thread still answers; one that is stuck is ended, and the others are not kept waiting by it. */
  private keepWatch(gone: Gone): void {
    let asked = 0;
    this.watch = setInterval(() => {
      if (asked === 0) {
        asked = Date.now();
        this.app.ping().then(
          () => (asked = 0),
          () => undefined,
        );
      } else if (Date.now() - asked > this.stuckMs) {
        for (const body of this.pushes) {
          const hash = hashOf(body);
          this.suspects.set(hash, (this.suspects.get(hash) ?? 0) + 1);
        }
        this.stop(`it worked on one thing for more than ${this.stuckMs / 1000} seconds`);
        gone(this, this.why, this.thread.end());
      }
    }, LOOK_MS);
    this.watch.unref();
  }

  private stop(why: string): void {
    if (this.over) return;
    this.over = true;
    this.why = why;
    if (this.watch) clearInterval(this.watch);
    this.end(new Refused(503, `This app was stopped: ${why}. It starts again when it is asked for.`));
    for (const s of this.streams()) s.end();
  }

  private end(why: Refused): void {
    this.ended = why;
    for (const reject of this.asking) reject(why);
    this.asking.clear();
  }

  /** Asks the app; rejects when it ends meanwhile. */
  ask<T>(work: (app: Remote<AppRunner>) => Promise<T>): Promise<T> {
    this.lastUsed = Date.now();
    if (this.ended) return Promise.reject(this.ended);
    return new Promise((resolve, reject) => {
      this.asking.add(reject);
      work(this.app)
        .then(resolve, reject)
        .finally(() => this.asking.delete(reject));
    });
  }

  /** Takes a push, and gives the receipt as JSON. Pushes that arrive together go to the thread in one message. */
  accept(body: Uint8Array, who: Who): Promise<string> {
    if (this.suspects.size && (this.suspects.get(hashOf(body)) ?? 0) >= MOST_TIMES)
      throw new Refused(422, 'The app works on this longer than its server allows.');
    return new Promise((resolve, reject) => {
      if (this.waiting.length === 0) setImmediate(() => void this.sendWaiting());
      this.waiting.push({ body, who, resolve, reject });
    });
  }

  private async sendWaiting(): Promise<void> {
    const group = this.waiting;
    this.waiting = [];
    for (const { body } of group) this.pushes.add(body);
    try {
      const answers = await this.ask((a) => a.acceptAll(group.map(({ body, who }) => ({ body, who }))));
      for (const [i, answer] of answers.entries())
        if (typeof answer === 'string') group[i]!.resolve(answer);
        else group[i]!.reject(new Refused(answer.status, answer.message));
    } catch (e) {
      for (const { reject } of group) reject(e);
    } finally {
      for (const { body } of group) this.pushes.delete(body);
    }
  }

  /** Takes the document of a newer release. */
  async setApp(path: string): Promise<void> {
    await this.ask((a) => a.setApp(path));
    this.follows = await this.ask((a) => a.follows());
  }

  private hear(news: AppNews): void {
    if (news.kind === 'notice') this.notify(news.notice);
    else if (news.kind === 'said') console.error(`The app at “${this.name}”: ${news.words}`);
    else if (news.kind === 'asks') this.tellAsks(news.of);
    else if (news.kind === 'mirror') this.tell('mirror', { table: news.table });
    else {
      this.at = Math.max(this.at, news.at);
      for (const name of news.to) {
        const heard = this.listening.get(name);
        if (!heard) continue;
        heard.view = news.view;
        for (const s of heard.streams) s.write(news.message);
      }
    }
  }

  /** Ends the streams of some people. */
  endStreams(people: ReadonlySet<string>): void {
    for (const person of people)
      for (const s of this.listening.get(nameOfWho({ kind: 'somebody', person }))?.streams ?? []) s.end();
  }

  /** Tells all who listen. */
  tell(event: string, data: unknown): void {
    for (const s of this.streams()) s.send(event, data);
  }

  get listeners(): number {
    return this.streams().length;
  }

  private streams(): Stream[] {
    return Array.from(this.listening.values(), (l) => [...l.streams]).flat();
  }

  /** Tells a notice to the devices of those it is for. */
  private notify(notice: KeptMessage): void {
    for (const [stream, { person }] of this.people) if (notice.to.includes(person)) stream.send('notice', notice);
  }

  /** Tells the devices of people what they are asked now: none what was asked before it said whose it is. */
  private tellAsks(of: Readonly<Record<string, readonly OpenQuestion[]>>): void {
    for (const [stream, { person, since }] of this.people)
      if (Object.hasOwn(of, person))
        stream.send(
          'asks',
          of[person]!.filter((q) => q.at >= since),
        );
  }

  /**
   * Makes sure that the app tells somebody what happens, from now until the way to end it is called. What has happened by
   * then is known here, so that what a stream hears first begins exactly where that ends.
   */
  async hearing(who: Who): Promise<() => void> {
    const name = nameOfWho(who);
    const heard = this.listening.get(name) ?? { streams: new Set(), view: undefined, wanted: 0 };
    this.listening.set(name, heard);
    let ended = false;
    const end = (): void => {
      if (ended) return;
      ended = true;
      if (--heard.wanted > 0) return;
      this.listening.delete(name);
      if (!this.over) this.ask((a) => a.listen(who, false)).catch(() => undefined);
    };
    heard.wanted++;
    try {
      const { at, view } = await this.ask((a) => a.listen(who, true));
      this.at = Math.max(this.at, at);
      heard.view = view;
    } catch (e) {
      end();
      throw e;
    }
    return end;
  }

  /** The view that somebody hears of who listens; none where the app is open. */
  viewOf(who: Who): string | undefined {
    return this.listening.get(nameOfWho(who))?.view;
  }

  /**
   * Tells a stream what happens, as far as this person may read it, until it ends; `end` is what {@link hearing} gave.
   * `said` is who uses the device as the device says it, and since when: notices and questions for them go there too.
   */
  listen(stream: Stream, who: Who, end: () => void, said: { person: string; since: number } | null = null): void {
    const { streams } = this.listening.get(nameOfWho(who))!;
    if (said) this.people.set(stream, said);
    streams.add(stream);
    stream.onEnd(() => {
      streams.delete(stream);
      this.people.delete(stream);
      end();
    });
  }

  /** Ends it in order; what comes after is refused with this. Gives the thread back for the next app. */
  async close(refusal: Refused): Promise<Thread | null> {
    if (this.over) return null;
    if (this.watch) clearInterval(this.watch);
    try {
      await this.ask((a) => a.close(refusal.status, refusal.message));
    } catch (e) {
      // A thread whose app did not end in order is not used again.
      this.stop((e as Error).message);
      await this.thread.end();
      return null;
    }
    this.over = true;
    this.end(refusal);
    for (const s of this.streams()) s.end();
    this.app[releaseProxy]();
    this.deaf();
    return this.thread;
  }
}
