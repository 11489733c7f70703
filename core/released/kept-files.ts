import { MOST_FILE_BYTES, PIECE_BYTES, tooLarge } from '../fields/kept-file.ts';
import type { FilesPort } from '../host/host.ts';
import { Turns } from '../document/turns.ts';
import { Refused } from '../document/refused.ts';

/** A file where files are kept, whole or as far as it has come. */
export interface StoredFile {
  hash: string;
  isWhole: boolean;
  /** Bytes that are here. */
  size: number;
  /** When it was changed last, in milliseconds since 1970. */
  at: number;
}

/** Where the files of one app are kept: whole ones, and beside them halves of those that still arrive. */
export interface FilesDisk extends FilesPort {
  /** Bytes of a half; 0 for none. */
  halfOf(hash: string): Promise<number>;
  /** Puts a piece into a half, all of it or nothing; the `isLast` one has reached the disk when it resolves. */
  write(hash: string, offset: number, piece: Uint8Array, isLast: boolean): Promise<void>;
  /** SHA-256 of what has come of a half, in base 64 for addresses. */
  hashOfHalf(hash: string): Promise<string>;
  /** A half is a whole file from now on, also after a power cut. */
  makeWhole(hash: string): Promise<void>;
  drop(hash: string, isWhole: boolean): Promise<void>;
  /** The content of a whole file; null where it is not here. */
  content(hash: string): Promise<Uint8Array | null>;
  list(): Promise<StoredFile[]>;
}

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
/** Is this the hash of a file, as its name has it? */
export const isFileHash = (name: string): boolean => HASH.test(name);

/** Files that no record holds go after so long: what names them was on its way, and has not come. */
const LOOSE_MS = 24 * 3_600_000;
/** Files that may be on their way to an app at once, in all and from one address. */
const MOST_ARRIVING = { all: 2000, each: 60 };
/** A file of which no piece has come for so long gives its room to others. */
const STALE_MS = 10 * 60_000;

/**
 * The files that the records of one app hold, each once by its content. A file is whole when its hash fits and it has
 * reached the disk. There is one keeper for an app, since it locks and counts.
 */
export class KeptFiles {
  private readonly turns = new Turns();
  private readonly arriving = new Map<string, Arriving>();
  /** Bytes of whole files; null until they are counted. */
  private whole: number | null = null;
  private counting: Promise<void> | null = null;
  /** Rises with each file that becomes whole or goes, so that a count beside it is made again. */
  private changes = 0;

  constructor(
    private readonly disk: FilesDisk,
    /** How many bytes all files of the app may have. */
    private readonly most: number,
    private readonly now: () => number = Date.now,
    private readonly mostArriving = MOST_ARRIVING,
  ) {}

  /** How much of a file is here. */
  async arrival(hash: string): Promise<Arrival> {
    const size = this.disk.sizeOf(checked(hash));
    if (size !== null) return { offset: size, complete: true };
    return { offset: await this.disk.halfOf(hash), complete: false };
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
    const done = offset + piece.length;
    await this.disk.write(hash, offset, piece, done === size);
    if (done < size) return { offset: done, complete: false };
    await this.finish(hash);
    // Its room is kept until it is counted among the whole ones: at no moment is it neither.
    this.arriving.delete(hash);
    this.changes++;
    if (this.whole !== null) this.whole += size;
    return { offset: size, complete: true };
  }

  /** Makes an arrived file a whole one; when it cannot be, it has to arrive anew. */
  private async finish(hash: string): Promise<void> {
    try {
      if ((await this.disk.hashOfHalf(hash)) !== hash)
        throw new Refused(422, 'What arrived is not the file that was announced.');
      await this.disk.makeWhole(hash);
    } catch (e) {
      await this.disk.drop(hash, false);
      this.arriving.delete(hash);
      throw e;
    }
  }

  /** Keeps room for a file of this size that begins to arrive, or goes on after the host was started anew. */
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
      await this.disk.drop(hash, false);
    }
  }

  /**
   * Waits until the bytes of whole files are known. Halves that an earlier run of the host left count when they go on;
   * the oldest go.
   */
  private async counted(): Promise<void> {
    while (this.whole === null) await (this.counting ??= this.count().finally(() => (this.counting = null)));
  }

  private async count(): Promise<void> {
    const { changes } = this;
    let sum = 0;
    for (const { hash, isWhole, size, at } of await this.disk.list()) {
      if (isWhole) sum += size;
      else if (this.now() - at > LOOSE_MS) await this.disk.drop(hash, false);
    }
    if (changes === this.changes) this.whole = sum;
  }

  /**
   * Lets go of files that no record holds, a day after they came. `unlessUsed` runs what it is given while no record can
   * begin to hold the file.
   */
  async sweep(unlessUsed: (hash: string, drop: () => Promise<void>) => Promise<void>): Promise<void> {
    for (const { hash, isWhole, at } of await this.disk.list()) {
      if (!isWhole || this.now() - at < LOOSE_MS) continue;
      await unlessUsed(hash, async () => {
        await this.disk.drop(hash, true);
        this.changes++;
        this.whole = null;
      });
    }
  }
}

function checked(hash: string): string {
  if (!isFileHash(hash)) throw new Refused(422, 'This is no hash of a file.');
  return hash;
}
