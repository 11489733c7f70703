import { randomUUID } from 'node:crypto';
import { link, readFile, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { MessagesPort } from '../core/released/outbox.ts';
import { makeFolder, syncFolder, writeSynced, writeWhole } from './disk.ts';

/** The messages of an outbox in a folder, a file for each. */
export class MessagesFolder implements MessagesPort {
  constructor(private readonly folder: string) {}

  async list(): Promise<{ name: string; at: number; bytes: number }[]> {
    const files = await readdir(this.folder).catch((e: unknown) => {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return [];
      throw e;
    });
    const all: { name: string; at: number; bytes: number }[] = [];
    // One after the other: a folder may have more files than a process may open.
    for (const name of files) {
      // It is looked through before anything is written: what a stop has cut off is of no use to anybody.
      if (name.endsWith('.part')) await rm(join(this.folder, name), { force: true });
      if (/\.(eml|json)$/.test(name)) {
        const { mtimeMs, size } = await stat(join(this.folder, name));
        all.push({ name, at: mtimeMs, bytes: size });
      }
    }
    return all.sort((a, b) => a.at - b.at || a.name.localeCompare(b.name));
  }

  async keep(name: string, text: string): Promise<void> {
    const part = join(this.folder, `${name}.${randomUUID()}.part`);
    try {
      await makeFolder(this.folder);
      await writeSynced(part, text);
      await link(part, join(this.folder, name));
      // Whoever sent it is told that it is kept.
      await syncFolder(this.folder);
    } finally {
      await rm(part, { force: true });
    }
  }

  read(name: string): Promise<string> {
    return readFile(join(this.folder, name), 'utf8');
  }
  replace(name: string, text: string): Promise<void> {
    return writeWhole(join(this.folder, name), text);
  }
  drop(name: string): Promise<void> {
    return rm(join(this.folder, name), { force: true });
  }
}
