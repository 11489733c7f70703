import { z } from 'zod';
import { VERSION } from '../core/document/version.ts';
import type { ReadRelease } from './thread-api.ts';
import { ReleaseFacts } from './facts.ts';
import { hashOfKey, isKeyOf } from './keys.ts';
import { Refused } from '../core/document/refused.ts';
import type { FileStore, Release } from './store.ts';
import type { Thread, Threads } from './threads.ts';
import type { Turns } from '../core/document/turns.ts';

export const ADDRESS = /^[a-z0-9](?:[a-z0-9-]{0,38}[a-z0-9])?$/;
const TAKEN = new Set(['api', 'assets', 'studio', 'admin', 'www', 'sw', 'manifest']);

/** Why an address cannot be used, or null. Addresses are short, in small letters, digits and hyphens. */
export function addressProblem(name: string): string | null {
  if (!ADDRESS.test(name))
    return 'An address has 1 to 40 small letters, digits and hyphens, and begins and ends with a letter or digit.';
  return TAKEN.has(name) ? `“${name}” is kept for Mellow Kite itself. Choose another address.` : null;
}

export const noApp = (name: string): Refused =>
  new Refused(404, `There is no app at “${name}”. Check the link, or ask the person who gave it to you.`);

const About = z.object({
  facts: ReleaseFacts,
  // A document that is read again comes without; what is kept beside it has them.
  icons: z.object({ 192: z.string(), 512: z.string() }).nullable().default(null),
  number: z.number().optional(),
  at: z.string().optional(),
  keyHash: z.string().optional(),
});
const aboutOf = ({ about }: ReadRelease): z.infer<typeof About> =>
  About.parse(JSON.parse(Buffer.from(about).toString('utf8')));

/** Has what is kept of a release all that the server goes by today? */
const isCurrent = ({ version, hosts, look, halves }: ReleaseFacts): boolean =>
  version === VERSION && hosts !== undefined && look !== undefined && halves === true;

/** A document that cannot be looked through in this time is refused. */
const READ_MS = 20_000;

/** What is released at which address. */
export class Releases {
  /** Releases that were asked for; each belongs to the app as it runs, or would. */
  private readonly here = new Map<string, Release>();

  constructor(
    private readonly store: FileStore,
    private readonly threads: Threads,
    private readonly turns: Turns,
  ) {}

  /** What is released at an address. Throws a {@link Refused} when there is nothing. */
  async at(name: string): Promise<Release> {
    const release = await this.known(name);
    if (!release) throw noApp(name);
    return release;
  }

  /** What is known of an address without asking the disk; null when nothing is. */
  now(name: string): Release | null {
    return this.here.get(name) ?? null;
  }

  /** What is released at an address; null when nothing is. */
  async known(name: string): Promise<Release | null> {
    if (!ADDRESS.test(name)) return null;
    const known = this.here.get(name);
    if (known) return known;
    const release = await this.kept(name);
    // Meanwhile it may have been released anew.
    if (release && !this.here.has(name)) this.here.set(name, release);
    return this.here.get(name) ?? null;
  }

  /** A release as it is kept; one of an earlier form is brought into today's, once for all who ask. */
  private async kept(name: string): Promise<Release | null> {
    const kept = await this.store.read(name);
    if (!kept || (!('old' in kept) && isCurrent(kept.facts))) return kept;
    return this.turns.take(`read ${name}`, async () => {
      const now = await this.store.read(name);
      if (!now || (!('old' in now) && isCurrent(now.facts))) return now;
      const path =
        'old' in now ? now.old : this.store.documentPath(name, now.number, now.facts.halves ? 'host' : 'phone');
      const read = await this.inThread((api) => api.readKept(path, name));
      const about = aboutOf(read);
      const release = { ...about, ...(!('old' in now) && { ...now, facts: about.facts }) } as Release;
      await this.store.write(name, release, read);
      return release;
    });
  }

  /** Is the address free, or held by this key? */
  check(name: string, key: string, release: Release | null): { free: boolean; problem: string | null } {
    const problem = addressProblem(name);
    if (problem) return { free: false, problem };
    if (release && !isKeyOf(release, key))
      return { free: false, problem: `“${name}” is taken by another app. Choose another address.` };
    return { free: !release, problem: null };
  }

  /** Looks through what is to be released, in a thread, since a large one would make everybody wait. */
  read(body: Uint8Array): Promise<ReadRelease> {
    return this.inThread((api) => api.readRelease(body));
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

  /** Releases an app at an address, in the turn of that: the first time for whoever brings a key, then only for its holder. */
  async put(name: string, key: string, read: ReadRelease): Promise<Release> {
    const before = await this.known(name);
    const { problem } = this.check(name, key, before);
    if (problem) throw new Refused(409, problem);
    const { facts, icons } = aboutOf(read);
    if (before && before.facts.app !== facts.app)
      throw new Refused(
        409,
        `Another app of yours is released at “${name}”. Choose another address, or remove that one first.`,
      );
    const number = (before?.number ?? 0) + 1;
    const release: Release = { facts, number, at: new Date().toISOString(), keyHash: hashOfKey(key), icons };
    await this.store.write(name, release, read);
    this.here.set(name, release);
    return release;
  }

  async remove(name: string): Promise<void> {
    this.here.delete(name);
    await this.store.remove(name);
  }
}
