import { createHash, timingSafeEqual } from 'node:crypto';
import { existsSync } from 'node:fs';
import type { Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import { isMailAddress } from '../core/document/addresses.ts';
import { compose } from '../core/formats/eml.ts';
import { Host } from '../core/host/host.ts';
import { Mirrors } from './mirrors.ts';
import { Refused } from './refused.ts';
import type { SheetsFolder } from './sheets-folder.ts';
import type { FileStore, OpenedLog, Release } from './store.ts';

interface Running {
  release: Release;
  host: Host;
  log: OpenedLog['log'];
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

const hash = (key: string): string => createHash('sha256').update(key).digest('hex');
const sameHash = (a: string, b: string): boolean => timingSafeEqual(Buffer.from(a, 'hex'), Buffer.from(b, 'hex'));

/** The released apps of this server, each run by its own host. */
export class Apps {
  private readonly running = new Map<string, Promise<Running | null>>();
  private readonly releasing = new Map<string, Promise<unknown>>();

  constructor(
    private readonly store: FileStore,
    private readonly sheets: SheetsFolder,
  ) {}

  private run(name: string): Promise<Running | null> {
    if (!ADDRESS.test(name)) return Promise.resolve(null);
    let running = this.running.get(name);
    if (!running) {
      running = this.start(name);
      this.running.set(name, running);
      // What could not be started, or does not exist yet, is looked for again the next time.
      running.then(
        (r) => {
          if (!r) this.running.delete(name);
        },
        () => this.running.delete(name),
      );
    }
    return running;
  }

  private async start(name: string): Promise<Running | null> {
    const release = await this.store.read(name);
    return release && this.serve(name, release);
  }

  private async serve(name: string, release: Release): Promise<Running> {
    const opened = await this.store.openLog(name);
    let log = opened.log;
    const host = new Host(release.app, { append: (c) => log.append(c) });
    host.restore(opened.states, opened.changes, opened.at);
    if (opened.changes.length > 2000) {
      await log.close();
      await this.store.compact(name, [...host.replica.all()], host.position);
      log = (await this.store.openLog(name)).log;
    }
    const running: Running = {
      release,
      host,
      log,
      listeners: new Set(),
      mirrors: new Mirrors(this.store.mirrorsPath(name), () => running.release.app, host, this.sheets),
    };
    await running.mirrors.start();
    return running;
  }

  async get(name: string): Promise<Running> {
    const running = await this.run(name);
    if (!running)
      throw new Refused(404, `There is no app at “${name}”. Check the link, or ask the person who gave it to you.`);
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
    // One at a time for each address, so that two who want it at once do not both get it.
    const turn = (this.releasing.get(name) ?? Promise.resolve())
      .catch(() => undefined)
      .then(() => this.releaseNow(name, key, app, icons));
    this.releasing.set(name, turn);
    return turn;
  }

  private async releaseNow(
    name: string,
    key: string,
    app: App,
    icons: Release['icons'],
  ): Promise<{ number: number; at: string }> {
    const { problem } = await this.check(name, key);
    if (problem) throw new Refused(409, problem);
    const running = await this.run(name);
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
    } else this.running.set(name, this.serve(name, release));
    return { number: release.number, at: release.at };
  }

  async remove(name: string, key: string): Promise<void> {
    const running = await this.get(name);
    if ((await this.who(name, key)).kind !== 'owner')
      throw new Refused(403, 'Only the holder of the app’s key can remove it.');
    this.running.delete(name);
    await running.mirrors.close();
    await running.log.close();
    await this.store.remove(name);
    for (const l of running.listeners) l(0);
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
    for (const r of this.running.values()) {
      const running = await r.catch(() => null);
      await running?.mirrors.close();
      await running?.log.close();
    }
  }
}
