import { createHash, timingSafeEqual } from 'node:crypto';
import { existsSync } from 'node:fs';
import type { Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import { isMailAddress } from '../core/document/addresses.ts';
import { compose } from '../core/formats/eml.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import type { KeptFiles } from './kept-files.ts';
import type { Stream } from './live.ts';
import type { KeptMessage, SentMessage, Settlement } from './messages.ts';
import type { MirrorRequest } from './mirrors.ts';
import { Refused } from './refused.ts';
import { RunningApp } from './running-app.ts';
import type { SheetOwners } from './sheet-owners.ts';
import type { FileStore, OutboxEntry, Release } from './store.ts';
import type { Threads } from './threads.ts';
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
  /** How many bytes the files of one app may have. */
  fileBytes: number;
  /** A thread that does one thing for so many milliseconds is ended. */
  stuckMs: number;
}

/** The released apps of this server. Each runs in a thread of its own, so that none holds up or takes down another. */
export class Apps {
  private readonly running = new Map<string, RunningApp>();
  /** Releases that were asked for; each belongs to the app as it runs, or would. */
  private readonly releases = new Map<string, Release>();
  private readonly turns = new Turns();
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
  async release(name: string): Promise<Release> {
    const release = await this.known(name);
    if (!release) throw noApp(name);
    return release;
  }

  private async known(name: string): Promise<Release | null> {
    if (!ADDRESS.test(name)) return null;
    const known = this.releases.get(name);
    if (known) return known;
    const release = await this.store.read(name);
    // Meanwhile it may have been released anew.
    if (release && !this.releases.has(name)) this.releases.set(name, release);
    return this.releases.get(name) ?? null;
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
    const release = await this.release(name);
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
          app: release.app,
          folder: await this.store.folderOf(name),
          sheets: this.options.sheets,
          fileBytes: this.options.fileBytes,
        },
        this.owners.of(() => this.releases.get(name)?.keyHash ?? release.keyHash),
        { suspects, stuckMs: this.options.stuckMs },
        (app, why, ended) => this.gone(name, app, why, ended),
      );
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
  async who(name: string, key: string | undefined): Promise<Who> {
    if (!key) return { kind: 'link' };
    return sameHash(hash(key), (await this.release(name)).keyHash) ? { kind: 'owner' } : { kind: 'link' };
  }

  private async mustOwn(name: string, key: string, words: string): Promise<void> {
    if ((await this.who(name, key)).kind !== 'owner') throw new Refused(403, words);
  }

  // Records

  /** Keeps what a device sends, a push in JSON; the receipt in JSON comes when it is safe. */
  async accept(name: string, key: string | undefined, body: Uint8Array): Promise<string> {
    const who = await this.who(name, key);
    return (await this.app(name)).accept(body, who);
  }

  /** What a device is missing, in JSON; see {@link Host.catchUp}. */
  async catchUp(name: string, key: string | undefined, since: number, from: number): Promise<Uint8Array> {
    const who = await this.who(name, key);
    return (await this.app(name)).ask((a) => a.catchUp(since, who, from));
  }

  /** Where an app stands, and the way to hear what happens to it. */
  /** What a device hears from now on; and the notices for its person since it last heard one, at this time. */
  async live(name: string, key: string | undefined, person = '', heard = '') {
    const who = await this.who(name, key);
    const app = await this.app(name);
    app.at = Math.max(app.at, await app.ask((a) => a.at()));
    const missed = person && heard ? await this.noticesFor(name, person, heard) : [];
    return {
      hello: () => ({
        at: app.at,
        release: this.releases.get(name)?.number ?? 0,
        now: new Date().toISOString(),
      }),
      listen: (stream: Stream) => {
        app.listen(stream, who, person);
        for (const n of missed) stream.send('notice', n);
      },
    };
  }

  private async noticesFor(name: string, person: string, after: string): Promise<KeptMessage[]> {
    return (await this.store.notices(name, after)).filter((m) => m.to.includes(person));
  }

  // Files of records

  async files(name: string): Promise<KeptFiles> {
    await this.release(name);
    return this.store.openFiles(name);
  }

  /** The path of a file that this person may read; null when there is none. */
  async file(name: string, key: string | undefined, hash: string): Promise<string | null> {
    const files = await this.files(name);
    if (files.sizeOf(hash) === null) return null;
    const who = await this.who(name, key);
    const may = await (await this.app(name)).ask((a) => a.mayReadFile(who, hash));
    return may ? files.path(hash) : null;
  }

  // Releases

  /** Is the address free, or held by this key? */
  async check(name: string, key: string): Promise<{ free: boolean; problem: string | null }> {
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
    const { app, icons } = await this.read(body);
    // Two who want an address at once do not both get it.
    return this.turns.take(name, () => this.putNow(name, key, app, icons));
  }

  private async read(body: Uint8Array): Promise<Pick<Release, 'app' | 'icons'>> {
    const thread = await this.threads.take();
    let late: ReturnType<typeof setTimeout> | undefined;
    let deaf = (): void => undefined;
    const tooLate = new Promise<never>((_, reject) => {
      late = setTimeout(() => reject(new Refused(422, 'This app takes too long to be looked through.')), READ_MS);
      deaf = thread.onEnd(() => reject(new Refused(422, 'This app is too large to be looked through.')));
    });
    try {
      const read = await Promise.race([thread.api.readRelease(body), tooLate]);
      this.threads.giveBack(thread);
      return JSON.parse(Buffer.from(read).toString('utf8')) as Pick<Release, 'app' | 'icons'>;
    } catch (e) {
      void thread.end();
      throw e;
    } finally {
      clearTimeout(late);
      deaf();
    }
  }

  private async putNow(
    name: string,
    key: string,
    app: App,
    icons: Release['icons'],
  ): Promise<{ number: number; at: string }> {
    const { problem } = await this.check(name, key);
    if (problem) throw new Refused(409, problem);
    const before = await this.known(name);
    if (before && before.app.id !== app.id)
      throw new Refused(
        409,
        `Another app of yours is released at “${name}”. Choose another address, or remove that one first.`,
      );
    const number = (before?.number ?? 0) + 1;
    const release: Release = { app, number, at: new Date().toISOString(), keyHash: hash(key), icons };
    await this.store.write(name, release);
    this.releases.set(name, release);
    // What was wrong with the one before is not held against it.
    this.stops.delete(name);
    const running = this.running.get(name);
    if (running) {
      await running.setApp(app).catch(() => undefined);
      running.tell('release', { number });
    }
    return { number, at: release.at };
  }

  remove(name: string, key: string): Promise<void> {
    return this.turns.take(name, async () => {
      const release = await this.release(name);
      if (!sameHash(hash(key), release.keyHash))
        throw new Refused(403, 'Only the holder of the app’s key can remove it.');
      // What was sent before is answered before; what comes after finds nothing here.
      this.running.get(name)?.tell('release', { number: 0 });
      await this.endApp(name, noApp(name));
      this.releases.delete(name);
      this.suspects.delete(name);
      await this.store.remove(name);
    });
  }

  // What goes out

  /** Puts a message into the app's outbox, once for each id; a notice goes on to the people it is for. */
  async send(name: string, message: SentMessage): Promise<void> {
    const release = await this.release(name);
    if (message.kind) {
      const { id, kind, to, subject, body } = message;
      const kept: KeptMessage = { id, kind, to, subject, body, at: new Date().toISOString() };
      const isNew = await this.store.addMessage(name, id, 'json', JSON.stringify(kept));
      if (isNew && kind === 'notice') this.running.get(name)?.notify(kept);
      return;
    }
    const bad = message.to.find((a) => !isMailAddress(a));
    if (bad) throw new Refused(422, `“${bad}” is not a mail address.`);
    const eml = compose({
      ...message,
      from: { name: release.app.name, address: `${name}@mellow-kite.example` },
      date: new Date(),
    });
    await this.store.addMessage(name, message.id, 'eml', eml);
  }

  async outbox(name: string, key: string): Promise<OutboxEntry[]> {
    await this.mustOwn(name, key, 'Only the holder of the app’s key can read its outbox.');
    return this.store.messages(name);
  }

  // Mirrored tables, for the holder of the app's key

  private async owned(name: string, key: string): Promise<RunningApp> {
    await this.mustOwn(name, key, 'Only the holder of the app’s key can mirror its tables.');
    return this.app(name);
  }
  async mirrors(name: string, key: string): Promise<MirrorsMessage> {
    return (await this.owned(name, key)).ask((a) => a.mirrors());
  }
  async mirror(name: string, key: string, table: string, request: MirrorRequest): Promise<MirrorStatus> {
    const app = await this.owned(name, key);
    const status = await app.ask((a) => a.mirror(table, request));
    app.follows = true;
    return status;
  }
  async unmirror(name: string, key: string, table: string): Promise<void> {
    const app = await this.owned(name, key);
    await app.ask((a) => a.unmirror(table));
    app.follows = await app.ask((a) => a.follows());
  }
  async settle(name: string, key: string, table: string, answer: Settlement): Promise<MirrorStatus> {
    return (await this.owned(name, key)).ask((a) => a.settle(table, answer));
  }

  /** Starts the apps that mirror files, so that these are followed from the first moment on; others start when asked for. */
  async startMirroring(): Promise<void> {
    for (const name of await this.store.names())
      if (existsSync(this.store.mirrorsPath(name)))
        await this.app(name).catch((e: Error) => console.error(`The app at “${name}” cannot be started: ${e.message}`));
  }

  async close(): Promise<void> {
    clearInterval(this.rest);
    const down = new Refused(503, 'The server is going down. Try again in a moment.');
    await Promise.all([...this.running.keys()].map((name) => this.turns.take(name, () => this.endApp(name, down))));
    await this.threads.close();
  }
}
