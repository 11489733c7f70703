import { createHash } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { MOST_FILE_BYTES, PIECE_BYTES, tooLarge } from '../core/fields/kept-file.ts';
import type { FilesPort } from '../core/host/host.ts';
import { syncFolder } from './records-log.ts';
import { Refused } from './refused.ts';
import { Turns } from './turns.ts';

/** How far a file has come. */
export interface Arrival {
  /** Bytes that are here. */
  offset: number;
  complete: boolean;
}

const HASH = /^[A-Za-z0-9_-]{43}$/;
/** Files that no record holds go after so long: what names them was on its way, and has not come. */
const LOOSE_MS = 24 * 3_600_000;
/** Files that may be on their way to an app at once. */
const MOST_ARRIVING = 200;

/**
 * The files that the records of one app hold, each once by its content: whole ones under their hash, those that still
 * arrive beside them with `.part` at their end. A file is whole when its hash fits and it has reached the disk.
 */
export class KeptFiles implements FilesPort {
  private readonly turns = new Turns();
  private total: Promise<number> | null = null;

  constructor(
    private readonly folder: string,
    /** How many bytes all files of the app may have. */
    private readonly most: number,
  ) {}

  /** Where a whole file lies. */
  path(hash: string): string {
    return join(this.folder, hash);
  }

  sizeOf(hash: string): number | null {
    return HASH.test(hash) ? (statSync(this.path(hash), { throwIfNoEntry: false })?.size ?? null) : null;
  }

  /** How much of a file is here. */
  async arrival(hash: string): Promise<Arrival> {
    const size = this.sizeOf(checked(hash));
    if (size !== null) return { offset: size, complete: true };
    return { offset: await sizeAt(`${this.path(hash)}.part`), complete: false };
  }

  /** Takes the piece of a file that begins at `offset`. Throws a {@link Refused} when it is not the next one. */
  take(hash: string, size: number, offset: number, piece: Uint8Array): Promise<Arrival> {
    // Two who send the same file send it together.
    return this.turns.take(checked(hash), () => this.takeNow(hash, size, offset, piece));
  }

  private async takeNow(hash: string, size: number, offset: number, piece: Uint8Array): Promise<Arrival> {
    if (!(size >= 0 && size <= MOST_FILE_BYTES)) throw new Refused(422, tooLarge({ name: '', size }));
    const now = await this.arrival(hash);
    if (now.complete) return now;
    if (offset !== now.offset) throw new Refused(409, `The file goes on at byte ${now.offset}, and not at ${offset}.`);
    if (piece.length > PIECE_BYTES || offset + piece.length > size || (piece.length === 0 && size > 0))
      throw new Refused(422, 'This piece does not fit its file.');
    await this.room(offset === 0 ? size : 0);
    const path = `${this.path(hash)}.part`;
    const file = await open(path, offset === 0 ? 'w' : 'r+');
    const done = offset + piece.length;
    try {
      try {
        await file.write(piece, 0, piece.length, offset);
        if (done === size) await file.sync();
      } catch (e) {
        await file.truncate(offset).catch(() => undefined);
        if ((e as NodeJS.ErrnoException).code === 'ENOSPC')
          throw new Refused(507, 'The server’s disk is full. The file waits, and is sent when there is room.');
        throw e;
      }
    } finally {
      await file.close();
    }
    if (done < size) return { offset: done, complete: false };
    if ((await hashAt(path)) !== hash) {
      await rm(path, { force: true });
      throw new Refused(422, 'What arrived is not the file that was announced.');
    }
    await rename(path, this.path(hash));
    // What names it is promised to be kept next; it must be there after a power cut.
    await syncFolder(this.folder);
    return { offset: size, complete: true };
  }

  /** Makes sure that a file of this size may begin to arrive. */
  private async room(size: number): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    this.total ??= this.measure();
    const total = (await this.total) + size;
    if (size === 0) return;
    if (total > this.most)
      throw new Refused(507, 'The files of this app have reached what its server keeps. Its operator can raise that.');
    if ((await this.names()).filter((n) => n.endsWith('.part')).length >= MOST_ARRIVING)
      throw new Refused(429, 'Too many files are on their way to this app. Try again in a while.');
    this.total = Promise.resolve(total);
  }

  private async measure(): Promise<number> {
    let sum = 0;
    for (const name of await this.names()) sum += await sizeAt(join(this.folder, name));
    return sum;
  }

  private names(): Promise<string[]> {
    return readdir(this.folder).catch(() => []);
  }

  /**
   * Lets go of files that no record holds, and of those that stopped arriving, a day after they last changed.
   * `unlessUsed` runs what it is given while no record can begin to hold the file.
   */
  async sweep(unlessUsed: (hash: string, drop: () => Promise<void>) => Promise<void>, now = Date.now()): Promise<void> {
    for (const name of await this.names()) {
      const path = join(this.folder, name);
      const changed = await stat(path).then(
        (s) => s.mtimeMs,
        () => now,
      );
      if (now - changed < LOOSE_MS) continue;
      const hash = name.replace(/\.part$/, '');
      const drop = async (): Promise<void> => {
        await rm(path, { force: true });
        this.total = null;
      };
      if (name === hash) await unlessUsed(hash, drop);
      else await this.turns.take(hash, drop);
    }
  }
}

function checked(hash: string): string {
  if (!HASH.test(hash)) throw new Refused(422, 'This is no hash of a file.');
  return hash;
}

const sizeAt = (path: string): Promise<number> =>
  stat(path).then(
    (s) => s.size,
    () => 0,
  );

async function hashAt(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part as Buffer);
  return hash.digest('base64url');
}
