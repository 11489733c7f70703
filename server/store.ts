import { mkdir, open, readFile, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { ReleaseFacts } from './facts.ts';
import { KeptFiles } from './kept-files.ts';
import { Listeners } from './listeners.ts';
import { Outbox } from './outbox.ts';
import { syncFolder } from './records-log.ts';

/** A released app as the server knows it; its document lies in a file of its own, and is read only in threads. */
export interface Release {
  facts: ReleaseFacts;
  number: number;
  /** ISO 8601. */
  at: string;
  /** SHA-256 of the owner key, in hex. */
  keyHash: string;
  /** PNG pictures, base64. */
  icons: { 192: string; 512: string } | null;
}

const ReleaseFile = z.object({
  facts: ReleaseFacts,
  number: z.number(),
  at: z.string(),
  keyHash: z.string(),
  icons: z.object({ 192: z.string(), 512: z.string() }).nullable(),
});
const NAME = 'published.json';
/** Releases of before lie in one file with their document. */
const OLD_NAME = 'release.json';
const documentName = (number: number): string => `app-${number}.json`;

/** Writes a file so that it is either the old one or the new one, whole, even if the power fails. */
export async function writeWhole(path: string, content: string | Uint8Array): Promise<void> {
  const part = `${path}.part`;
  const file = await open(part, 'w');
  try {
    await file.writeFile(content);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(part, path);
}

const missing = (e: unknown): boolean => (e as NodeJS.ErrnoException).code === 'ENOENT';

/**
 * One folder a released app: published.json and its document, its records (see `records-log.ts`), files/, outbox/, listeners.json,
 * mirrors.json. What keeps files or messages of a folder is made once, since it locks and counts.
 */
export class FileStore {
  private readonly files = new Map<string, KeptFiles>();
  private readonly outboxes = new Map<string, Outbox>();
  private readonly listeners = new Map<string, Listeners>();

  constructor(
    private readonly folder: string,
    /** How many bytes the files of one app may have. */
    private readonly mostFileBytes: number,
  ) {}

  private path(name: string, ...rest: string[]): string {
    return join(this.folder, name, ...rest);
  }

  async names(): Promise<string[]> {
    try {
      return (await readdir(this.folder, { withFileTypes: true })).filter((d) => d.isDirectory()).map((d) => d.name);
    } catch (e) {
      if (missing(e)) return [];
      throw e;
    }
  }

  /** What is released; the path of a release as it was kept before, which is to be read in a thread; or null. */
  async read(name: string): Promise<Release | { old: string } | null> {
    try {
      return ReleaseFile.parse(JSON.parse(await readFile(this.path(name, NAME), 'utf8')));
    } catch (e) {
      if (!missing(e)) throw e;
    }
    const folder = await readdir(this.path(name)).catch(() => [] as string[]);
    return folder.includes(OLD_NAME) ? { old: this.path(name, OLD_NAME) } : null;
  }

  /** Where the document of a release lies. */
  documentPath(name: string, number: number): string {
    return this.path(name, documentName(number));
  }

  /** Keeps a release with its document, and lets go of the documents before it. */
  async write(name: string, release: Release, document: Uint8Array): Promise<void> {
    await mkdir(this.path(name), { recursive: true });
    await writeWhole(this.documentPath(name, release.number), document);
    await writeWhole(this.path(name, NAME), JSON.stringify(release));
    await syncFolder(this.path(name));
    for (const file of await readdir(this.path(name)))
      if (file === OLD_NAME || (/^app-\d+\.json(\.part)?$/.test(file) && file !== documentName(release.number)))
        await rm(this.path(name, file), { force: true });
  }

  /** Where what an app's mirrored tables agreed on is kept. */
  mirrorsPath(name: string): string {
    return this.path(name, 'mirrors.json');
  }

  async remove(name: string): Promise<void> {
    this.files.delete(name);
    this.outboxes.delete(name);
    this.listeners.delete(name);
    await rm(this.path(name), { recursive: true, force: true });
  }

  /** The folder of an app, made when it is not there. */
  async folderOf(name: string): Promise<string> {
    await mkdir(this.path(name), { recursive: true });
    return this.path(name);
  }

  /** The files that an app's records hold: one keeper for everybody who asks. */
  openFiles(name: string): KeptFiles {
    return once(this.files, name, () => new KeptFiles(this.path(name, 'files'), this.mostFileBytes));
  }

  /** What an app sends out: one keeper for everybody who asks. */
  openOutbox(name: string): Outbox {
    return once(this.outboxes, name, () => new Outbox(this.path(name, 'outbox')));
  }

  /** Who listens to an app's notices, by one keeper for everybody who asks. */
  openListeners(name: string): Listeners {
    return once(this.listeners, name, () => new Listeners(this.path(name, 'listeners.json'), writeWhole));
  }
}

function once<T>(made: Map<string, T>, name: string, make: () => T): T {
  const known = made.get(name);
  if (known) return known;
  const it = make();
  made.set(name, it);
  return it;
}
