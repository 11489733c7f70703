import { createHash } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { isFileHash, type FilesDisk, type StoredFile } from '../core/released/kept-files.ts';
import { Refused } from '../core/document/refused.ts';
import { makeFolder, syncFolder } from './disk.ts';

const HALF = '.part';

/** The files of one app in a folder: whole ones under their hash, halves with `.part` at their end. */
export class FilesFolder implements FilesDisk {
  constructor(private readonly folder: string) {}

  /** Where a file lies. */
  private path(hash: string, isWhole: boolean): string {
    return join(this.folder, isWhole ? hash : hash + HALF);
  }

  sizeOf(hash: string): number | null {
    return isFileHash(hash) ? (statSync(this.path(hash, true), { throwIfNoEntry: false })?.size ?? null) : null;
  }

  halfOf(hash: string): Promise<number> {
    return stat(this.path(hash, false)).then(
      (s) => s.size,
      () => 0,
    );
  }

  async write(hash: string, offset: number, piece: Uint8Array, isLast: boolean): Promise<void> {
    await makeFolder(this.folder);
    const file = await open(this.path(hash, false), offset === 0 ? 'w' : 'r+');
    try {
      try {
        await file.write(piece, 0, piece.length, offset);
        if (isLast) await file.sync();
      } catch (e) {
        await file.truncate(offset).catch(() => undefined);
        if ((e as NodeJS.ErrnoException).code === 'ENOSPC')
          throw new Refused(507, 'The server’s disk is full. The file waits, and is sent when there is room.');
        throw e;
      }
    } finally {
      await file.close();
    }
  }

  async hashOfHalf(hash: string): Promise<string> {
    const sum = createHash('sha256');
    for await (const part of createReadStream(this.path(hash, false))) sum.update(part as Buffer);
    return sum.digest('base64url');
  }

  async makeWhole(hash: string): Promise<void> {
    await rename(this.path(hash, false), this.path(hash, true));
    // What names it is promised to be kept next; it must be there after a power cut.
    await syncFolder(this.folder);
  }

  async drop(hash: string, isWhole: boolean): Promise<void> {
    await rm(this.path(hash, isWhole), { force: true });
  }

  content(hash: string): Promise<Uint8Array | null> {
    return isFileHash(hash) ? readFile(this.path(hash, true)).catch(() => null) : Promise.resolve(null);
  }

  async list(): Promise<StoredFile[]> {
    const found: StoredFile[] = [];
    for (const name of await readdir(this.folder).catch(() => [] as string[])) {
      const isWhole = !name.endsWith(HALF);
      const hash = isWhole ? name : name.slice(0, -HALF.length);
      if (!isFileHash(hash)) continue;
      const about = await stat(join(this.folder, name)).catch(() => null);
      if (about) found.push({ hash, isWhole, size: about.size, at: about.mtimeMs });
    }
    return found;
  }
}
