import { randomUUID } from 'node:crypto';
import { link, mkdir, open, readFile, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { readApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { KeptFiles } from './kept-files.ts';
import { KeptMessage } from './messages.ts';

/** A released app as it is kept. */
export interface Release {
  app: App;
  number: number;
  /** ISO 8601. */
  at: string;
  /** SHA-256 of the owner key, in hex. */
  keyHash: string;
  /** PNG pictures, base64. */
  icons: { 192: string; 512: string } | null;
}

/** Where released apps, their records and their outbox are kept. Files here; a database could take this place. */
export interface ReleaseStore {
  names(): Promise<string[]>;
  read(name: string): Promise<Release | null>;
  write(name: string, release: Release): Promise<void>;
  remove(name: string): Promise<void>;
  folderOf(name: string): Promise<string>;
  openFiles(name: string): KeptFiles;
  /** Keeps a message once for each id; says whether it is new. */
  addMessage(name: string, id: string, ending: 'eml' | 'json', text: string): Promise<boolean>;
  /** The newest messages, the last of them last. */
  messages(name: string): Promise<OutboxEntry[]>;
  /** All notices since a time (ISO 8601), in their order. */
  notices(name: string, after: string): Promise<KeptMessage[]>;
}

/** So many messages of an outbox are listed. */
const MOST_MESSAGES = 200;

/** A mail as it would go out, or another message as it is kept. */
export interface OutboxEntry {
  id: string;
  eml?: string;
  message?: KeptMessage;
}

const ReleaseFile = z.object({
  app: z.unknown(),
  number: z.number(),
  at: z.string(),
  keyHash: z.string(),
  icons: z.object({ 192: z.string(), 512: z.string() }).nullable(),
});

/** Writes a file so that it is either the old one or the new one, whole, even if the power fails. */
export async function writeWhole(path: string, text: string): Promise<void> {
  const part = `${path}.part`;
  const file = await open(part, 'w');
  try {
    await file.writeFile(text);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(part, path);
}

const missing = (e: unknown): boolean => (e as NodeJS.ErrnoException).code === 'ENOENT';

/** One folder a released app: release.json, its records (see `records-log.ts`), files/, outbox/, mirrors.json. */
export class FileStore implements ReleaseStore {
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

  async read(name: string): Promise<Release | null> {
    try {
      const file = ReleaseFile.parse(JSON.parse(await readFile(this.path(name, 'release.json'), 'utf8')));
      return { ...file, app: readApp(file.app, `The release at ${name}`) };
    } catch (e) {
      if (missing(e)) return null;
      throw e;
    }
  }

  async write(name: string, release: Release): Promise<void> {
    await mkdir(this.path(name), { recursive: true });
    await writeWhole(this.path(name, 'release.json'), JSON.stringify(release));
  }

  /** Where what an app's mirrored tables agreed on is kept. */
  mirrorsPath(name: string): string {
    return this.path(name, 'mirrors.json');
  }

  async remove(name: string): Promise<void> {
    await rm(this.path(name), { recursive: true, force: true });
  }

  /** The folder of an app, made when it is not there. */
  async folderOf(name: string): Promise<string> {
    await mkdir(this.path(name), { recursive: true });
    return this.path(name);
  }

  /** The files that an app's records hold. */
  openFiles(name: string): KeptFiles {
    return new KeptFiles(this.path(name, 'files'), this.mostFileBytes);
  }

  async addMessage(name: string, id: string, ending: 'eml' | 'json', text: string): Promise<boolean> {
    await mkdir(this.path(name, 'outbox'), { recursive: true });
    const path = this.path(name, 'outbox', `${id}.${ending}`);
    const part = `${path}.${randomUUID()}.part`;
    try {
      await writeFile(part, text);
      // A message that is sent twice is the first one.
      await link(part, path);
      return true;
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code !== 'EEXIST') throw e;
      return false;
    } finally {
      await rm(part, { force: true });
    }
  }

  async messages(name: string): Promise<OutboxEntry[]> {
    const files = (await this.sent(name)).slice(-MOST_MESSAGES);
    return Promise.all(
      files.map(async ({ file }): Promise<OutboxEntry> => {
        const text = await readFile(this.path(name, 'outbox', file), 'utf8');
        const id = file.replace(/\.\w+$/, '');
        return file.endsWith('.eml') ? { id, eml: text } : { id, message: KeptMessage.parse(JSON.parse(text)) };
      }),
    );
  }

  async notices(name: string, after: string): Promise<KeptMessage[]> {
    // Clocks of files are coarse; what is read is looked at by its own time.
    const since = Date.parse(after) - 2000;
    const files = (await this.sent(name)).filter((f) => f.file.endsWith('.json') && f.at >= since);
    const kept = await Promise.all(
      files.map(async (f) => KeptMessage.parse(JSON.parse(await readFile(this.path(name, 'outbox', f.file), 'utf8')))),
    );
    return kept.filter((m) => m.kind === 'notice' && m.at > after).sort((a, b) => a.at.localeCompare(b.at));
  }

  /** The files of the outbox, the newest last. */
  private async sent(name: string): Promise<{ file: string; at: number }[]> {
    const folder = this.path(name, 'outbox');
    const files = await readdir(folder).catch((e: unknown) => {
      if (missing(e)) return [];
      throw e;
    });
    const all = await Promise.all(
      files
        .filter((f) => /\.(eml|json)$/.test(f))
        .map(async (file) => ({ file, at: (await stat(join(folder, file))).mtimeMs })),
    );
    return all.sort((a, b) => a.at - b.at || a.file.localeCompare(b.file));
  }
}
