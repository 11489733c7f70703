import { mkdir, open, readFile, readdir, rename, rm, writeFile, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { readApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { ChangeSchema, RecordStateSchema, type Change, type RecordState } from '../core/records/change.ts';
import type { LogPort } from '../core/host/host.ts';

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
  openLog(name: string): Promise<OpenedLog>;
  addMessage(name: string, id: string, eml: string): Promise<void>;
  messages(name: string): Promise<{ id: string; eml: string }[]>;
}

export interface OpenedLog {
  log: LogPort & { close(): Promise<void> };
  states: RecordState[];
  changes: Change[];
  at: number;
}

const ReleaseFile = z.object({
  app: z.unknown(),
  number: z.number(),
  at: z.string(),
  keyHash: z.string(),
  icons: z.object({ 192: z.string(), 512: z.string() }).nullable(),
});
const SnapshotFile = z.object({ at: z.number(), states: z.array(RecordStateSchema) });

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

/** One folder a released app: release.json, records.json (a snapshot), changes.jsonl (what came since), outbox/. */
export class FileStore implements ReleaseStore {
  constructor(private readonly folder: string) {}

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

  async openLog(name: string): Promise<OpenedLog> {
    await mkdir(this.path(name), { recursive: true });
    const [snapshot, changes] = await Promise.all([this.snapshot(name), this.changes(name)]);
    const file = await open(this.path(name, 'changes.jsonl'), 'a');
    return { log: new FileLog(file), ...snapshot, changes };
  }

  private async snapshot(name: string): Promise<{ at: number; states: RecordState[] }> {
    try {
      return SnapshotFile.parse(JSON.parse(await readFile(this.path(name, 'records.json'), 'utf8')));
    } catch (e) {
      if (missing(e)) return { at: 0, states: [] };
      throw e;
    }
  }

  private async changes(name: string): Promise<Change[]> {
    const path = this.path(name, 'changes.jsonl');
    let text: string;
    try {
      text = await readFile(path, 'utf8');
    } catch (e) {
      if (missing(e)) return [];
      throw e;
    }
    // A line that a crash cut off was never acknowledged; it is taken off so that the next one starts clean.
    const end = text.lastIndexOf('\n') + 1;
    if (end < text.length) await writeWhole(path, text.slice(0, end));
    return text
      .slice(0, end)
      .split('\n')
      .filter(Boolean)
      .flatMap((line) => {
        const parsed = ChangeSchema.safeParse(JSON.parse(line));
        return parsed.success ? [parsed.data] : [];
      });
  }

  /** Puts all states into the snapshot and begins an empty log. Call it before the log is opened for writing. */
  async compact(name: string, states: RecordState[], at: number): Promise<void> {
    await writeWhole(this.path(name, 'records.json'), JSON.stringify({ at, states }));
    await writeWhole(this.path(name, 'changes.jsonl'), '');
  }

  async addMessage(name: string, id: string, eml: string): Promise<void> {
    await mkdir(this.path(name, 'outbox'), { recursive: true });
    await writeFile(this.path(name, 'outbox', `${id}.eml`), eml, { flag: 'w' });
  }

  async messages(name: string): Promise<{ id: string; eml: string }[]> {
    try {
      const files = (await readdir(this.path(name, 'outbox')))
        .filter((f) => f.endsWith('.eml'))
        .sort()
        .slice(-200);
      return Promise.all(
        files.map(async (f) => ({ id: f.slice(0, -4), eml: await readFile(this.path(name, 'outbox', f), 'utf8') })),
      );
    } catch (e) {
      if (missing(e)) return [];
      throw e;
    }
  }
}

/** Changes as lines of JSON. An append has reached the disk when its promise resolves. */
class FileLog implements LogPort {
  constructor(private readonly file: FileHandle) {}
  async append(changes: readonly Change[]): Promise<void> {
    await this.file.appendFile(changes.map((c) => `${JSON.stringify(c)}\n`).join(''));
    await this.file.datasync();
  }
  close(): Promise<void> {
    return this.file.close();
  }
}
