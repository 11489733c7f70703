import { createHash, timingSafeEqual } from 'node:crypto';
import { existsSync } from 'node:fs';
import { z } from 'zod';
import { NOBODY, OWNER, type Who } from '../core/access/access.ts';
import type { Asked } from '../core/host/protocol.ts';
import { isMailAddress } from '../core/document/addresses.ts';
import { compose } from '../core/formats/eml.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import { ReleaseFacts } from './facts.ts';
import type { Arrival } from './kept-files.ts';
import type { ReadRelease } from './app-runner.ts';
import { Doors } from './doors.ts';
import { VERSION } from '../core/document/version.ts';
import type { Stream } from './live.ts';
import type { KeptMessage, SentMessage, Settlement } from './messages.ts';
import type { MirrorRequest } from './mirrors.ts';
import { Refused } from './refused.ts';
import { RunningApp } from './running-app.ts';
import type { SheetOwners } from './sheet-owners.ts';
import type { OutboxEntry } from './outbox.ts';
import type { FileStore, Release } from './store.ts';
import type { Thread, Threads } from './threads.ts';
import { Turns } from './turns.ts';

const ADDRESS = /^[a-z0-9](?:[a-z0-9-]{0,38}[a-z0-9])?$/;
const TAKEN = new Set(['api', 'assets', 'studio', 'admin', 'www', 'sw', 'manifest']);

/** Why an address cannot be used, or null. Addresses are short, in small letters, digits and hyphens. */
export function addressProblem(name: string): string | null {
  if (!ADDRESS.test(name))
    return 'An address has 1 to 40 small letters, digits and hyphens, and begins and ends with a letter or digit.';
  return TAKEN.has(name) ? `“${name}” is kept for Mellow Kite itself. Choose another address.` : null;
}

const noApp = (name: string): Refused =>
  new Refused(404, `There is no app at “${name}”. Check the link, or ask the person who gave it to you.`);

const hash = (key: string): string => createHash('sha256').update(key).digest('hex');
const sameHash = (a: string, b: string): boolean => timingSafeEqual(Buffer.from(a, 'hex'), Buffer.from(b, 'hex'));

const About = z.object({
  facts: ReleaseFacts,
  icons: z.object({ 192: z.string(), 512: z.string() }).nullable(),
  number: z.number().optional(),
  at: z.string().optional(),
  keyHash: z.string().optional(),
});
const aboutOf = ({ about }: ReadRelease): z.infer<typeof About> =>
  About.parse(JSON.parse(Buffer.from(about).toString('utf8')));

/** Has what is kept of a release all that the server goes by today? */
const isCurrent = ({ version, hosts }: ReleaseFacts): boolean => version === VERSION && hosts !== undefined;

/** An app that nobody asks for is put to rest after so long. */
const REST_MS = 10 * 60_000;
/** So many apps run at once; each has a thread of its own. */
const MOST_RUNNING = 200;
/** An app that was stopped so often within this time waits as long before it is started again. */
const MOST_STOPS = 3;
const STOPS_MS = 60_000;
/** A document that cannot be looked through in this time is refused. */
const READ_MS = 20_000;

export interface AppsOptions {
  /** The folder of the files that tables can mirror. */
  sheets: string;
  /** A thread that does one thing for so many milliseconds is ended. */
  stuckMs: number;
}

/** The released apps of this server. Each runs in a thread of its own, so that none holds up or takes down another. */
export class Apps {
  private readonly running = new Map<string, RunningApp>();
  /** Releases that were asked for; each belongs to the app as it runs, or would. */
  private readonly releases = new Map<string, Release>();
  private readonly turns = new Turns();
  private readonly doors = new Doors();
  private readonly stops = new Map<string, number[]>();
  private readonly suspects = new Map<string, Map<string, number>>();
  private readonly rest: ReturnType<typeof setInterval>;

  constructor(
    private readonly store: FileStore,
    private readonly owners: SheetOwners,
    private readonly threads: Threads,
    private readonly options: AppsOptions,
  ) {
    this.rest = setInterval(() => void this.putToRest(Date.now() - REST_MS), 60_000);
    this.rest.unref();
  }

  /** What is released at an address. Throws a {@link Refused} when there is nothing. */
  release(name: string): Promise<Release> {
    return this.doors.enter(name, () => this.released(name));
  }

  private async released(name: string): Promise<Release> {
    const release = await this.known(name);
    if (!release) throw noApp(name);
    return release;
  }

  /** Refuses a phone that means another app than the one that is at the address now. */
  mustBe(name: string, app: string): Promise<void> {
    return this.doors.enter(name, () => this.isMeant(name, app));
  }

  private async isMeant(name: string, app: string | undefined): Promise<void> {
    if (app === undefined) return;
    const { facts } = await this.released(name);
    if (facts.app !== app) throw new Refused(410, 'Another app is at this address now.');
  }

  /** The document of an app, as the file it lies in, and what the release is. */
  async document(name: string): Promise<{ release: Release; path: string }> {
    const release = await this.release(name);
    return { release, path: this.store.documentPath(name, release.number) };
  }

  private async known(name: string): Promise<Release | null> {
    if (!ADDRESS.test(name)) return null;
    const known = this.releases.get(name);
    if (known) return known;
    const release = await this.kept(name);
    // Meanwhile it may have been released anew.
    if (release && !this.releases.has(name)) this.releases.set(name, release);
    return this.releases.get(name) ?? null;
  }

  /** A release as it is kept; one of an earlier form is brought into today's, once for all who ask. */
  private async kept(name: string): Promise<Release | null> {
    const kept = await this.store.read(name);
    if (!kept || (!('old' in kept) && isCurrent(kept.facts))) return kept;
    return this.turns.take(`read ${name}`, async () => {
      const now = await this.store.read(name);
      if (!now || (!('old' in now) && isCurrent(now.facts))) return now;
      const path = 'old' in now ? now.old : this.store.documentPath(name, now.number);
      const read = await this.inThread((api) => api.readKept(path, name));
      const about = aboutOf(read);
      const release = { ...about, ...(!('old' in now) && { ...now, facts: about.facts }) } as Release;
      await this.store.write(name, release, read.document);
      return release;
    });
  }

  /** The app at an address, started when it is not running. */
  private async app(name: string): Promise<RunningApp> {
    const running = ADDRESS.test(name) ? this.running.get(name) : undefined;
    return running ?? this.turns.take(name, () => this.start(name));
  }

  /** Only in the turn of the address. */
  private async start(name: string): Promise<RunningApp> {
    const running = this.running.get(name);
    if (running) return running;
    const release = await this.released(name);
    const stops = (this.stops.get(name) ?? []).filter((at) => at > Date.now() - STOPS_MS);
    if (stops.length >= MOST_STOPS)
      throw new Refused(503, 'This app was stopped several times for asking too much. It is started again in a while.');
    if (this.running.size >= MOST_RUNNING) await this.makeRoom();
    const suspects = this.suspects.get(name) ?? new Map<string, number>();
    this.suspects.set(name, suspects);
    const thread = await this.threads.take();
    try {
      const started = await RunningApp.start(
        thread,
        {
          name,
          document: this.store.documentPath(name, release.number),
          folder: await this.store.folderOf(name),
          sheets: this.options.sheets,
        },
        this.owners.of(() => this.releases.get(name)?.keyHash ?? release.keyHash),
        { suspects, stuckMs: this.options.stuckMs },
        (app, why, ended) => this.gone(name, app, why, ended),
      );
      started.onSwept = () => this.store.openFiles(name).countAnew();
      this.running.set(name, started);
      return started;
    } catch (e) {
      await thread.end();
      throw e;
    }
  }

  /** An app has ended without being told to. */
  private gone(name: string, app: RunningApp, why: string, ended: Promise<void>): void {
    console.error(`The app at “${name}” was stopped: ${why}.`);
    this.stops.set(name, [...(this.stops.get(name) ?? []).slice(-MOST_STOPS), Date.now()]);
    if (this.running.get(name) === app) this.running.delete(name);
    // Not before what it was writing is written.
    void this.turns.take(name, () => ended);
  }

  private async makeRoom(): Promise<void> {
    const idle = [...this.running].filter(([, app]) => app.listeners === 0 && !app.follows);
    const [name] = idle.sort((a, b) => a[1].lastUsed - b[1].lastUsed)[0] ?? [];
    if (name === undefined) throw new Refused(503, 'This server runs as many apps as it can. Try again in a while.');
    await this.rests(name);
  }

  /** Ends apps that nobody has asked for since a time. */
  private async putToRest(since: number): Promise<void> {
    for (const [name, app] of this.running)
      if (app.lastUsed < since && app.listeners === 0 && !app.follows) await this.rests(name);
  }

  private rests(name: string): Promise<void> {
    return this.turns.take(name, () => this.endApp(name, new Refused(503, 'The app was put to rest. Ask again.')));
  }

  private async endApp(name: string, refusal: Refused): Promise<void> {
    const app = this.running.get(name);
    if (!app) return;
    // Whoever asks from here on waits for its turn, and finds it started anew or gone.
    this.running.delete(name);
    const thread = await app.close(refusal);
    if (thread) this.threads.giveBack(thread);
  }

  /** Owner when the key fits, otherwise a holder of the link. */
  private async who(name: string, key: string | undefined): Promise<Who> {
    if (!key) return NOBODY;
    return sameHash(hash(key), (await this.released(name)).keyHash) ? OWNER : NOBODY;
  }

  private async mustOwn(name: string, key: string, words: string): Promise<void> {
    if ((await this.who(name, key)).kind !== 'owner') throw new Refused(403, words);
  }

  // Records

  /** Keeps what a device sends, a push in JSON; the receipt in JSON comes when it is safe. */
  accept(name: string, key: string | undefined, body: Uint8Array, app?: string): Promise<string> {
    return this.doors.enter(name, async () => {
      await this.isMeant(name, app);
      const who = await this.who(name, key);
      return (await this.app(name)).accept(body, who);
    });
  }

  /** What a device is missing, in JSON; see {@link Host.catchUp}. */
  catchUp(name: string, key: string | undefined, asked: Asked): Promise<Uint8Array> {
    return this.doors.enter(name, async () => {
      const who = await this.who(name, key);
      return (await this.app(name)).ask((a) => a.catchUp(asked, who));
    });
  }

  /** What a device must have in place of what it has, both in JSON; see {@link Host.compare}. */
  compare(name: string, key: string | undefined, body: Uint8Array): Promise<Uint8Array> {
    return this.doors.enter(name, async () => {
      const who = await this.who(name, key);
      return (await this.app(name)).ask((a) => a.compare(body, who));
    });
  }

  /**
   * What a device hears from now on; and the notices for its person since it last heard one, at this time. `device` is its
   * secret: without one it hears no notices, and nobody those from before they said who uses it.
   */
  live(name: string, key: string | undefined, { person = '', heard = '', device = '' } = {}) {
    return this.doors.enter(name, () => this.liveNow(name, key, device ? person : '', heard, device));
  }

  private async liveNow(name: string, key: string | undefined, person: string, heard: string, device: string) {
    const who = await this.who(name, key);
    const app = await this.app(name);
    const end = await app.hearing(who);
    const listening = person ? await this.store.openListeners(name).listens(person, device) : null;
    const from = listening && heard && (heard > listening.since ? heard : listening.since);
    const missed = from ? await this.store.openOutbox(name).notices(person, from) : [];
    return {
      hello: () => ({
        at: app.at,
        view: app.viewOf(who),
        release: this.releases.get(name)?.number ?? 0,
        now: new Date().toISOString(),
        devices: listening?.devices ?? 0,
      }),
      end,
      listen: (stream: Stream) => {
        app.listen(stream, who, end, person);
        for (const n of missed) stream.send('notice', n);
      },
    };
  }

  // Files of records

  /** How far a file has come. */
  fileArrival(name: string, hash: string): Promise<Arrival> {
    return this.doors.enter(name, async () => {
      await this.released(name);
      return this.store.openFiles(name).arrival(hash);
    });
  }

  /** Takes a piece of a file from an address. */
  takePiece(name: string, hash: string, size: number, offset: number, piece: Uint8Array, by: string): Promise<Arrival> {
    return this.doors.enter(name, async () => {
      await this.released(name);
      return this.store.openFiles(name).take(hash, size, offset, piece, by);
    });
  }

  /** The path of a file that this person may read; null when there is none. */
  file(name: string, key: string | undefined, hash: string): Promise<string | null> {
    return this.doors.enter(name, async () => {
      await this.released(name);
      const files = this.store.openFiles(name);
      if (files.sizeOf(hash) === null) return null;
      const who = await this.who(name, key);
      const may = await (await this.app(name)).ask((a) => a.mayReadFile(who, hash));
      return may ? files.path(hash) : null;
    });
  }

  // Releases

  /** Is the address free, or held by this key? */
  check(name: string, key: string): Promise<{ free: boolean; problem: string | null }> {
    return this.doors.enter(name, () => this.checkNow(name, key));
  }

  private async checkNow(name: string, key: string): Promise<{ free: boolean; problem: string | null }> {
    const problem = addressProblem(name);
    if (problem) return { free: false, problem };
    const release = await this.known(name);
    if (release && !sameHash(hash(key), release.keyHash))
      return { free: false, problem: `“${name}” is taken by another app. Choose another address.` };
    return { free: !release, problem: null };
  }

  /**
   * Releases an app at an address: the first time for whoever brings a key, afterwards only for its holder. `body` is a
   * release in JSON; it is looked through in a thread, since a large one would make everybody wait.
   */
  async put(name: string, key: string, body: Uint8Array): Promise<{ number: number; at: string }> {
    const read = await this.inThread((api) => api.readRelease(body));
    // Two who want an address at once do not both get it.
    return this.doors.enter(name, () => this.turns.take(name, () => this.putNow(name, key, read)));
  }

  /** Looks through a document in a thread, which is ended when that takes too long. */
  private async inThread(work: (api: Thread['api']) => Promise<ReadRelease>): Promise<ReadRelease> {
    const thread = await this.threads.take();
    let late: ReturnType<typeof setTimeout> | undefined;
    let deaf = (): void => undefined;
    const tooLate = new Promise<never>((_, reject) => {
      late = setTimeout(() => reject(new Refused(422, 'This app takes too long to be looked through.')), READ_MS);
      deaf = thread.onEnd(() => reject(new Refused(422, 'This app is too large to be looked through.')));
    });
    try {
      const read = await Promise.race([work(thread.api), tooLate]);
      this.threads.giveBack(thread);
      return read;
    } catch (e) {
      void thread.end();
      throw e;
    } finally {
      clearTimeout(late);
      deaf();
    }
  }

  private async putNow(name: string, key: string, read: ReadRelease): Promise<{ number: number; at: string }> {
    const { problem } = await this.checkNow(name, key);
    if (problem) throw new Refused(409, problem);
    const { facts, icons } = aboutOf(read);
    const before = await this.known(name);
    if (before && before.facts.app !== facts.app)
      throw new Refused(
        409,
        `Another app of yours is released at “${name}”. Choose another address, or remove that one first.`,
      );
    const number = (before?.number ?? 0) + 1;
    const release: Release = { facts, number, at: new Date().toISOString(), keyHash: hash(key), icons };
    await this.store.write(name, release, read.document);
    this.releases.set(name, release);
    // What was wrong with the one before is not held against it.
    this.stops.delete(name);
    const running = this.running.get(name);
    if (running) {
      await running.setApp(this.store.documentPath(name, number)).catch(() => undefined);
      running.tell('release', { number });
    }
    return { number, at: release.at };
  }

  /** Removes an app, after all who are at one of its doors have gone; who comes meanwhile waits, and finds nothing. */
  remove(name: string, key: string): Promise<void> {
    return this.doors.close(name, () =>
      this.turns.take(name, async () => {
        const release = await this.released(name);
        if (!sameHash(hash(key), release.keyHash))
          throw new Refused(403, 'Only the holder of the app’s key can remove it.');
        this.running.get(name)?.tell('release', { number: 0 });
        await this.endApp(name, noApp(name));
        this.releases.delete(name);
        this.suspects.delete(name);
        await this.store.remove(name);
      }),
    );
  }

  // What goes out

  /** Puts a message into the app's outbox, once for each id; a notice goes on to the people it is for. */
  send(name: string, message: SentMessage): Promise<void> {
    return this.doors.enter(name, () => this.sendNow(name, message));
  }

  private async sendNow(name: string, message: SentMessage): Promise<void> {
    const release = await this.released(name);
    const outbox = this.store.openOutbox(name);
    if (message.kind) {
      const { id, kind, to, subject, body } = message;
      const kept: KeptMessage = { id, kind, to, subject, body, at: new Date().toISOString() };
      const isNew = await outbox.add(id, 'json', JSON.stringify(kept));
      if (isNew && kind === 'notice') this.running.get(name)?.notify(kept);
      return;
    }
    const bad = message.to.find((a) => !isMailAddress(a));
    if (bad) throw new Refused(422, `“${bad}” is not a mail address.`);
    const eml = compose({
      ...message,
      from: { name: release.facts.name, address: `${name}@mellow-kite.example` },
      date: new Date(),
    });
    await outbox.add(message.id, 'eml', eml);
  }

  outbox(name: string, key: string): Promise<{ messages: OutboxEntry[]; more: number }> {
    return this.doors.enter(name, async () => {
      await this.mustOwn(name, key, 'Only the holder of the app’s key can read its outbox.');
      return this.store.openOutbox(name).newest();
    });
  }

  // Mirrored tables, for the holder of the app's key

  private owned<T>(name: string, key: string, work: (app: RunningApp) => Promise<T>): Promise<T> {
    return this.doors.enter(name, async () => {
      await this.mustOwn(name, key, 'Only the holder of the app’s key can mirror its tables.');
      return work(await this.app(name));
    });
  }
  mirrors(name: string, key: string): Promise<MirrorsMessage> {
    return this.owned(name, key, (app) => app.ask((a) => a.mirrors()));
  }
  mirror(name: string, key: string, table: string, request: MirrorRequest): Promise<MirrorStatus> {
    return this.owned(name, key, async (app) => {
      const status = await app.ask((a) => a.mirror(table, request));
      app.follows = true;
      return status;
    });
  }
  unmirror(name: string, key: string, table: string): Promise<void> {
    return this.owned(name, key, async (app) => {
      await app.ask((a) => a.unmirror(table));
      app.follows = await app.ask((a) => a.follows());
    });
  }
  settle(name: string, key: string, table: string, answer: Settlement): Promise<MirrorStatus> {
    return this.owned(name, key, (app) => app.ask((a) => a.settle(table, answer)));
  }

  /** Starts the apps that mirror files, so that these are followed from the first moment on; others start when asked for. */
  async startMirroring(): Promise<void> {
    for (const name of await this.store.names())
      if (existsSync(this.store.mirrorsPath(name)))
        await this.doors
          .enter(name, () => this.app(name))
          .catch((e: Error) => console.error(`The app at “${name}” cannot be started: ${e.message}`));
  }

  async close(): Promise<void> {
    clearInterval(this.rest);
    const down = new Refused(503, 'The server is going down. Try again in a moment.');
    await Promise.all([...this.running.keys()].map((name) => this.turns.take(name, () => this.endApp(name, down))));
    await this.threads.close();
  }
}
