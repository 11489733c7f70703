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

/** A file that still arrives: how large it was announced, by whom, and when its last piece came. */
interface Arriving {
  size: number;
  by: string;
  at: number;
}

const HASH = /^[A-Za-z0-9_-]{43}$/;
/** Files that no record holds go after so long: what names them was on its way, and has not come. */
const LOOSE_MS = 24 * 3_600_000;
/** Files that may be on their way to an app at once, in all and from one address. */
const MOST_ARRIVING = { all: 2000, each: 60 };
/** A file of which no piece has come for so long gives its room to others. */
const STALE_MS = 10 * 60_000;

/** The files in a folder that are whole, for whoever only looks at them. */
export class FilesThere implements FilesPort {
  constructor(protected readonly folder: string) {}

  /** Where a whole file lies. */
  path(hash: string): string {
    return join(this.folder, hash);
  }

  sizeOf(hash: string): number | null {
    return HASH.test(hash) ? (statSync(this.path(hash), { throwIfNoEntry: false })?.size ?? null) : null;
  }

  /**
   * Lets go of files that no record holds, a day after they came. `unlessUsed` runs what it is given while no record can
   * begin to hold the file. Says whether any went.
   */
  async sweep(
    unlessUsed: (hash: string, drop: () => Promise<void>) => Promise<void>,
    now = Date.now(),
  ): Promise<boolean> {
    let dropped = false;
    for (const name of await readdir(this.folder).catch(() => [] as string[])) {
      if (!HASH.test(name)) continue;
      const path = join(this.folder, name);
      const changed = await stat(path).then(
        (s) => s.mtimeMs,
        () => now,
      );
      if (now - changed < LOOSE_MS) continue;
      await unlessUsed(name, async () => {
        await rm(path, { force: true });
        dropped = true;
      });
    }
    return dropped;
  }
}

/**
 * The files that the records of one app hold, each once by its content: whole ones under their hash, those that still
 * arrive beside them with `.part` at their end. A file is whole when its hash fits and it has reached the disk. There is
 * one keeper for a folder, since it locks and counts.
 */
export class KeptFiles extends FilesThere {
  private readonly turns = new Turns();
  private readonly arriving = new Map<string, Arriving>();
  /** Bytes of whole files; null until they are counted. */
  private whole: number | null = null;
  private counting: Promise<void> | null = null;
  /** Rises with each file that becomes whole or goes, so that a count beside it is made again. */
  private changes = 0;

  constructor(
    folder: string,
    /** How many bytes all files of the app may have. */
    private readonly most: number,
    private readonly now: () => number = Date.now,
    private readonly mostArriving = MOST_ARRIVING,
  ) {
    super(folder);
  }

  /** How much of a file is here. */
  async arrival(hash: string): Promise<Arrival> {
    const size = this.sizeOf(checked(hash));
    if (size !== null) return { offset: size, complete: true };
    return { offset: await sizeAt(`${this.path(hash)}.part`), complete: false };
  }

  /**
   * Takes the piece of a file that begins at `offset`, from an address. Throws a {@link Refused} when it is not the next
   * one, or the file is larger than it was announced.
   */
  take(hash: string, size: number, offset: number, piece: Uint8Array, by = ''): Promise<Arrival> {
    // Two who send the same file send it together.
    return this.turns.take(checked(hash), () => this.takeNow(hash, size, offset, piece, by));
  }

  private async takeNow(hash: string, size: number, offset: number, piece: Uint8Array, by: string): Promise<Arrival> {
    if (!(size >= 0 && size <= MOST_FILE_BYTES)) throw new Refused(422, tooLarge({ name: '', size }));
    const now = await this.arrival(hash);
    if (now.complete) return now;
    if (offset !== now.offset) throw new Refused(409, `The file goes on at byte ${now.offset}, and not at ${offset}.`);
    if (piece.length > PIECE_BYTES || offset + piece.length > size || (piece.length === 0 && size > 0))
      throw new Refused(422, 'This piece does not fit its file.');
    const announced = this.arriving.get(hash);
    if (announced && announced.size !== size)
      throw new Refused(422, `This file was announced with ${announced.size} bytes, and not with ${size}.`);
    if (announced) announced.at = this.now();
    else await this.reserve(hash, size, by);
    await this.write(hash, size, offset, piece);
    const done = offset + piece.length;
    if (done < size) return { offset: done, complete: false };
    await this.finish(hash);
    // Its room is kept until it is counted among the whole ones: at no moment is it neither.
    this.arriving.delete(hash);
    this.changes++;
    if (this.whole !== null) this.whole += size;
    // What names it is promised to be kept next; it must be there after a power cut.
    await syncFolder(this.folder);
    return { offset: size, complete: true };
  }

  /** Makes an arrived file a whole one; when it cannot be, it has to arrive anew. */
  private async finish(hash: string): Promise<void> {
    const path = `${this.path(hash)}.part`;
    try {
      if ((await hashAt(path)) !== hash) throw new Refused(422, 'What arrived is not the file that was announced.');
      await rename(path, this.path(hash));
    } catch (e) {
      await rm(path, { force: true });
      this.arriving.delete(hash);
      throw e;
    }
  }

  private async write(hash: string, size: number, offset: number, piece: Uint8Array): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    const file = await open(`${this.path(hash)}.part`, offset === 0 ? 'w' : 'r+');
    try {
      try {
        await file.write(piece, 0, piece.length, offset);
        if (offset + piece.length === size) await file.sync();
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

  /** Keeps room for a file of this size that begins to arrive, or goes on after the server was started anew. */
  private async reserve(hash: string, size: number, by: string): Promise<void> {
    await this.counted();
    const all = (): Arriving[] => [...this.arriving.values()];
    const isFull = (): boolean => (this.whole ?? 0) + all().reduce((n, a) => n + a.size, 0) + size > this.most;
    const areMany = (): boolean =>
      this.arriving.size >= this.mostArriving.all || all().filter((a) => a.by === by).length >= this.mostArriving.each;
    if (isFull() || areMany()) {
      await this.dropStale();
      await this.counted();
    }
    // Nothing is waited for between looking and keeping the room: others look at the same time.
    if (isFull())
      throw new Refused(507, 'The files of this app have reached what its server keeps. Its operator can raise that.');
    if (areMany()) throw new Refused(429, 'Too many files are on their way to this app. Try again in a while.');
    this.arriving.set(hash, { size, by, at: this.now() });
  }

  /** Gives up files of which nothing has come for a while. */
  private async dropStale(): Promise<void> {
    for (const [hash, { at }] of this.arriving) {
      if (this.now() - at < STALE_MS) continue;
      this.arriving.delete(hash);
      await rm(`${this.path(hash)}.part`, { force: true });
    }
  }

  /**
   * Waits until the bytes of whole files are known. Halves that an earlier run of the server left count when they go on;
   * the oldest go.
   */
  private async counted(): Promise<void> {
    while (this.whole === null) await (this.counting ??= this.count().finally(() => (this.counting = null)));
  }

  private async count(): Promise<void> {
    const { changes } = this;
    const sum = await this.measure();
    if (changes === this.changes) this.whole = sum;
  }

  private async measure(): Promise<number> {
    let sum = 0;
    for (const name of await readdir(this.folder).catch(() => [] as string[])) {
      const path = join(this.folder, name);
      if (HASH.test(name)) sum += await sizeAt(path);
      else if (name.endsWith('.part')) {
        const changed = await stat(path).then(
          (s) => s.mtimeMs,
          () => this.now(),
        );
        if (this.now() - changed > LOOSE_MS) await rm(path, { force: true });
      }
    }
    return sum;
  }

  /** Files of the folder were removed by somebody else: what is left is counted anew. */
  countAnew(): void {
    this.changes++;
    this.whole = null;
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
