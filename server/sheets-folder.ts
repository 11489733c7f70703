import { lstat, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { openTableFile } from '../core/formats/read.ts';
import { isFileName, sameStamp, type Listed, type Stamp } from '../core/mirror/sheets.ts';
import { makeFolder, syncFolder, writeSynced } from './disk.ts';

/** Files that programs leave beside one they hold open. */
const lockNames = (name: string): string[] => [`~$${name}`, `~$${name.slice(2)}`, `.~lock.${name}#`, `${name}.lock`];

/** The folder whose CSV and XLSX files can be mirrored. Only plain files in it are looked at, never what a link leads to. */
export class SheetsFolder {
  private readonly listed = new Map<string, { stamp: Stamp | null; entry: Listed }>();

  constructor(readonly path: string) {}

  private at(name: string): string {
    if (!isFileName(name)) throw new Error(`“${name}” is no name of a CSV or XLSX file.`);
    return join(this.path, name);
  }

  async names(): Promise<string[]> {
    await makeFolder(this.path);
    const entries = await readdir(this.path, { withFileTypes: true });
    return entries
      .filter((e) => e.isFile() && isFileName(e.name))
      .map((e) => e.name)
      .sort((a, b) => a.localeCompare(b, 'en'))
      .slice(0, 500);
  }

  /** The files that are asked for, with their sheets, or what keeps one from being read. */
  async list(wanted: (name: string) => boolean = () => true): Promise<Listed[]> {
    const out: Listed[] = [];
    for (const name of (await this.names()).filter(wanted)) {
      const stamp = await this.stamp(name);
      const before = this.listed.get(name);
      if (before && sameStamp(before.stamp, stamp)) {
        out.push(before.entry);
        continue;
      }
      try {
        const file = await openTableFile(name, await this.read(name));
        out.push({ name, sheets: file.sheets.map((s) => s.name), problem: null });
      } catch (e) {
        out.push({ name, sheets: [], problem: (e as Error).message });
      }
      this.listed.set(name, { stamp, entry: out.at(-1)! });
    }
    return out;
  }

  /** Null when there is no such file. */
  async stamp(name: string): Promise<Stamp | null> {
    try {
      const s = await lstat(this.at(name));
      return s.isFile() ? { time: s.mtimeMs, size: s.size, inode: s.ino } : null;
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw e;
    }
  }

  async read(name: string): Promise<Uint8Array> {
    return new Uint8Array(await readFile(this.at(name)));
  }

  /** Does another program hold the file open, as far as can be seen? */
  async isOpenElsewhere(name: string): Promise<boolean> {
    for (const lock of lockNames(name)) {
      const there = await stat(join(this.path, lock)).catch(() => null);
      if (there) return true;
    }
    return false;
  }

  /** Writes a file whole: beside it first, then in its place. */
  async write(name: string, bytes: Uint8Array): Promise<void> {
    const path = this.at(name);
    await makeFolder(this.path);
    const part = join(this.path, `.${name}.part`);
    const mode = await stat(path).then(
      (s) => s.mode & 0o777,
      () => 0o644,
    );
    try {
      await writeSynced(part, bytes, mode);
    } catch (e) {
      await rm(part, { force: true });
      throw e;
    }
    await rename(part, path);
    await syncFolder(this.path);
  }

  /** The name a file has now that was known by another; null when it is not in the folder. */
  async findByInode(inode: number): Promise<string | null> {
    for (const name of await this.names()) if ((await this.stamp(name))?.inode === inode) return name;
    return null;
  }
}
