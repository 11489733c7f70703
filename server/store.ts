import { readFile, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { ReleaseFacts } from './facts.ts';
import { makeFolder, writeWhole } from './disk.ts';

/** A released app as the server knows it; its document lies in files of its own, and is read only in threads. */
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
/** The halves of a document: what leaves, and what stays with the host. */
export type Half = 'phone' | 'host';
const documentName = (number: number, half: Half): string => `${half === 'phone' ? 'app' : 'host'}-${number}.json`;

const missing = (e: unknown): boolean => (e as NodeJS.ErrnoException).code === 'ENOENT';

/**
 * One folder a released app: published.json and both halves of its document, its records (see `records-log.ts`), files/, outbox/, listeners.json,
 * mirrors.json.
 */
export class FileStore {
  constructor(private readonly folder: string) {}

  private path(name: string, ...rest: string[]): string {
    return join(this.folder, name, ...rest);
  }

  async names(): Promise<string[]> {
    try {
      return (await readdir(this.folder, { withFileTypes: true }))
        .filter((d) => d.isDirectory() && !d.name.startsWith('.'))
        .map((d) => d.name);
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

  /** Where a half of the document of a release lies. */
  documentPath(name: string, number: number, half: Half): string {
    return this.path(name, documentName(number, half));
  }

  /** Keeps a release with both halves of its document, and lets go of the documents before it. */
  async write(name: string, release: Release, halves: Record<Half, Uint8Array>): Promise<void> {
    await makeFolder(this.path(name));
    for (const half of ['host', 'phone'] as const)
      await writeWhole(this.documentPath(name, release.number, half), halves[half]);
    await writeWhole(this.path(name, NAME), JSON.stringify(release));
    const now = (['phone', 'host'] as const).map((half) => documentName(release.number, half));
    for (const file of await readdir(this.path(name)))
      if (file === OLD_NAME || (/^(app|host)-\d+\.json(\.part)?$/.test(file) && !now.includes(file)))
        await rm(this.path(name, file), { force: true });
  }

  /** Where what an app's mirrored tables agreed on is kept. */
  mirrorsPath(name: string): string {
    return this.path(name, 'mirrors.json');
  }

  /** Where is kept who has signed in to an app. */
  signInsPath(name: string): string {
    return this.path(name, 'sign-ins.json');
  }

  /** Where what an app's tables agreed on with services is kept. */
  inStepPath(name: string): string {
    return this.path(name, 'in-step.json');
  }
  runsPath(name: string): string {
    return this.path(name, 'runs.jsonl');
  }

  async remove(name: string): Promise<void> {
    await rm(this.path(name), { recursive: true, force: true });
  }

  /** The folder of an app, made when it is not there. */
  async folderOf(name: string): Promise<string> {
    await makeFolder(this.path(name));
    return this.path(name);
  }

  /** Where a whole file that records hold lies. */
  filePath(name: string, hash: string): string {
    return this.path(name, 'files', hash);
  }
}
