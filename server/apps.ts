import { createHash, timingSafeEqual } from 'node:crypto';
import { existsSync } from 'node:fs';
import '../core/formula/patterns-engine.ts';
import { openToLinkHolders, type Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import { isMailAddress } from '../core/document/addresses.ts';
import { compose } from '../core/formats/eml.ts';
import { Host, type LogPort } from '../core/host/host.ts';
import type { KeptFiles } from './kept-files.ts';
import { Mirrors } from './mirrors.ts';
import { Refused } from './refused.ts';
import { Turns } from './turns.ts';
import { OwnSheets, type SheetOwners } from './sheet-owners.ts';
import type { SheetsFolder } from './sheets-folder.ts';
import type { RecordsLog } from './records-log.ts';
import type { FileStore, Release } from './store.ts';

interface Running {
  release: Release;
  host: Host;
  log: RecordsLog;
  files: KeptFiles;
  listeners: Set<(number: number) => void>;
  mirrors: Mirrors;
}

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

/** The released apps of this server, each run by its own host. */
export class Apps {
  private readonly running = new Map<string, Running>();
  private readonly turns = new Turns();

  constructor(
    private readonly store: FileStore,
    private readonly sheets: SheetsFolder,
    private readonly owners: SheetOwners,
  ) {}

  /** The app at an address, started when it is not running; null when there is none. */
  private run(name: string): Promise<Running | null> {
    if (!ADDRESS.test(name)) return Promise.resolve(null);
    const running = this.running.get(name);
    return running ? Promise.resolve(running) : this.turns.take(name, () => this.start(name));
  }

  /** Only in the turn of the address. */
  private async start(name: string): Promise<Running | null> {
    const running = this.running.get(name);
    if (running) return running;
    const release = await this.store.read(name);
    return release && this.serve(name, release);
  }

  private async serve(name: string, release: Release): Promise<Running> {
    const { log, kept } = await this.store.openLog(name);
    const files = this.store.openFiles(name);
    const keep: LogPort = {
      append: async (changes) => {
        await log.append(changes);
        if (log.isLong) void fold();
      },
    };
    const host = new Host(release.app, keep, openToLinkHolders, Date.now, files);
    const sweep = (): Promise<void> =>
      files.sweep(async (hash, drop) => {
        if (!host.usesFile(hash)) await host.pause(async () => (host.usesFile(hash) ? undefined : drop()));
      });
    // While the server goes on: changes are held up only while a new segment is begun.
    const fold = async (): Promise<void> => {
      try {
        await host.pause(() => log.turn(host.position));
        await log.fold(host.replica.all(), host.corrected);
        await sweep();
      } catch (e) {
        console.error(`The log of “${name}” cannot be folded now: ${(e as Error).message}`);
      }
    };
    host.restore(kept.states, kept.changes, kept.at, kept.late);
    const running: Running = {
      release,
      host,
      log,
      files,
      listeners: new Set(),
      mirrors: new Mirrors(
        this.store.mirrorsPath(name),
        () => running.release.app,
        host,
        new OwnSheets(this.sheets, this.owners, () => running.release.keyHash),
      ),
    };
    await running.mirrors.start();
    void sweep().catch((e: Error) => console.error(`Files of “${name}” cannot be looked through: ${e.message}`));
    this.running.set(name, running);
    return running;
  }

  async get(name: string): Promise<Running> {
    const running = await this.run(name);
    if (!running) throw noApp(name);
    return running;
  }

  /** Owner when the key fits, otherwise a holder of the link. */
  async who(name: string, key: string | undefined): Promise<Who> {
    if (!key) return { kind: 'link' };
    const { release } = await this.get(name);
    return sameHash(hash(key), release.keyHash) ? { kind: 'owner' } : { kind: 'link' };
  }

  /** Is the address free, or held by this key? */
  async check(name: string, key: string): Promise<{ free: boolean; problem: string | null }> {
    const problem = addressProblem(name);
    if (problem) return { free: false, problem };
    const release = await this.store.read(name);
    if (release && !sameHash(hash(key), release.keyHash))
      return { free: false, problem: `“${name}” is taken by another app. Choose another address.` };
    return { free: !release, problem: null };
  }

  /** Releases an app at an address: the first time for whoever brings a key, afterwards only for its holder. */
  release(name: string, key: string, app: App, icons: Release['icons']): Promise<{ number: number; at: string }> {
    // Two who want an address at once do not both get it.
    return this.turns.take(name, () => this.releaseNow(name, key, app, icons));
  }

  private async releaseNow(
    name: string,
    key: string,
    app: App,
    icons: Release['icons'],
  ): Promise<{ number: number; at: string }> {
    const { problem } = await this.check(name, key);
    if (problem) throw new Refused(409, problem);
    const running = await this.start(name);
    if (running && running.release.app.id !== app.id)
      throw new Refused(
        409,
        `Another app of yours is released at “${name}”. Choose another address, or remove that one first.`,
      );
    const release: Release = {
      app,
      number: (running?.release.number ?? 0) + 1,
      at: new Date().toISOString(),
      keyHash: hash(key),
      icons,
    };
    await this.store.write(name, release);
    if (running) {
      running.release = release;
      running.host.setApp(app);
      for (const l of running.listeners) l(release.number);
    } else await this.serve(name, release);
    return { number: release.number, at: release.at };
  }

  remove(name: string, key: string): Promise<void> {
    return this.turns.take(name, async () => {
      const running = await this.start(name);
      if (!running) throw noApp(name);
      if (!sameHash(hash(key), running.release.keyHash))
        throw new Refused(403, 'Only the holder of the app’s key can remove it.');
      // What was sent before is answered before; what comes after finds nothing here.
      await running.mirrors.close();
      await running.host.close(noApp(name));
      this.running.delete(name);
      await running.log.close();
      await this.store.remove(name);
      for (const l of running.listeners) l(0);
    });
  }

  /** Puts a mail into the app's outbox, once for each id. */
  async mail(name: string, mail: { id: string; to: string[]; subject: string; body: string }): Promise<void> {
    const { release } = await this.get(name);
    const bad = mail.to.find((a) => !isMailAddress(a));
    if (bad) throw new Refused(422, `“${bad}” is not a mail address.`);
    const eml = compose({
      ...mail,
      from: { name: release.app.name, address: `${name}@mellow-kite.example` },
      date: new Date(),
    });
    await this.store.addMessage(name, mail.id, eml);
  }

  /** The mirrored tables of an app, for the holder of its key. */
  async mirrors(name: string, key: string): Promise<Mirrors> {
    const running = await this.get(name);
    if ((await this.who(name, key)).kind !== 'owner')
      throw new Refused(403, 'Only the holder of the app’s key can mirror its tables.');
    return running.mirrors;
  }

  /** Starts the apps that mirror files, so that these are followed from the first moment on; others start when asked for. */
  async startMirroring(): Promise<void> {
    for (const name of await this.store.names())
      if (existsSync(this.store.mirrorsPath(name)))
        await this.run(name).catch((e: Error) => console.error(`The app at “${name}” cannot be started: ${e.message}`));
  }

  async outbox(name: string, key: string): Promise<{ id: string; eml: string }[]> {
    if ((await this.who(name, key)).kind !== 'owner')
      throw new Refused(403, 'Only the holder of the app’s key can read its outbox.');
    return this.store.messages(name);
  }

  async close(): Promise<void> {
    for (const running of this.running.values()) {
      await running.mirrors.close();
      await running.host.close(new Refused(503, 'The server is going down. Try again in a moment.'));
      await running.log.close();
    }
    this.running.clear();
  }
}
