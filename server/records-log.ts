import { open, readdir, readFile, rename, rm, stat, type FileHandle } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { z } from 'zod';
import { RecordStateSchema, type Change, type RecordState } from '../core/records/change.ts';
import type { HostSnapshot } from '../core/host/host.ts';
import type { FoldedLog } from '../core/released/ports.ts';
import { syncFolder } from './disk.ts';
import { linesOf } from './lines.ts';
import { changesIn, PastLog, rewriteLines } from './past-log.ts';
import { changeIn, parsedLine, segmentName, segmentStart, stateIn } from './record-lines.ts';

/** What a log is written through; a file, or in tests a disk that fails. */
export type LogFile = Pick<FileHandle, 'write' | 'truncate' | 'datasync' | 'close'>;
/** Opens a segment for writing, made when it is not there. */
export type OpenFile = (path: string) => Promise<LogFile>;

const openFile: OpenFile = async (path) => {
  try {
    return await open(path, 'r+');
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
    return open(path, 'w+');
  }
};

/** What was kept of an app's records. */
export interface Kept {
  /** Number of the last change. */
  at: number;
  states: RecordState[];
  changes: Change[];
  /** Changes in the snapshot that must be known when they are sent again, and up to when they have been forgotten. */
  known: [id: string, stamp: string][];
  forgotten: string;
  /** Changes of runs in the snapshot that may be asked for again. */
  runChanges: [run: string, changes: string[]][];
  /** In words, what could not be read and was set aside. */
  damage: string[];
}

const Head = z.object({
  at: z.number().int().nonnegative(),
  known: z.array(z.tuple([z.string(), z.string()])).optional(),
  forgotten: z.string().default(''),
  runs: z.array(z.tuple([z.string(), z.array(z.string())])).default([]),
  /** Snapshots of before amounts had only the ids. */
  late: z.array(z.string()).default([]),
});
const OldSnapshot = z.object({ at: z.number(), states: z.array(RecordStateSchema) });
const SNAPSHOT = 'records.jsonl';
const OLD_SNAPSHOT = 'records.json';
const OLD_LOG = 'changes.jsonl';
/** A log of up to so many bytes is not worth a snapshot. */
const SHORT = 4 << 20;
const DAMAGED = 'damaged-lines.txt';
/** States are written in parts of this many characters, so that a large snapshot makes nobody wait. */
const PART = 1 << 20;

/**
 * The records of one released app on a disk: a snapshot of them, and segments of changes that came since, each named by
 * the number of the change before it. All of them are lines of JSON, read and written piece by piece at any size.
 * Segments that a snapshot holds are put aside, for the history of records.
 */
export class RecordsLog implements FoldedLog {
  /** Bytes of the segment that are acknowledged; whatever lies behind them was never promised to anyone. */
  private size = 0;
  private torn = false;
  private folding: Promise<void> | null = null;
  private snapshotSize = 0;
  /** How often segments were put aside. */
  private putAside = 0;

  private constructor(
    private readonly folder: string,
    private file: LogFile,
    private start: number,
    private readonly opens: OpenFile,
    private readonly past: PastLog,
  ) {}

  /** Opens the log in a folder that is there. A line that cannot be read is set aside with its bytes; the rest opens. */
  static async open(folder: string, opens: OpenFile = openFile): Promise<{ log: RecordsLog; kept: Kept }> {
    const kept: Kept = { at: 0, states: [], changes: [], known: [], forgotten: '', runChanges: [], damage: [] };
    const damage = new Damage(kept.damage);
    const past = await PastLog.open(folder, SNAPSHOT);
    await readSnapshot(folder, kept, damage);
    const folded = kept.at - kept.changes.length;
    let start = kept.at;
    let size = 0;
    for (const segment of await segments(folder)) {
      const path = join(folder, segmentName(segment));
      // What the snapshot holds was about to be put aside when the server stopped.
      if (segment < folded) await past.take(segment);
      else {
        start = segment;
        kept.at = segment;
        size = await readSegment(path, kept, damage);
      }
    }
    await damage.keep(folder);
    const log = new RecordsLog(folder, await opens(join(folder, segmentName(start))), start, opens, past);
    await syncFolder(folder);
    log.size = size;
    log.snapshotSize = await stat(join(folder, SNAPSHOT)).then(
      (s) => s.size,
      () => 0,
    );
    log.torn = true; // a line that a crash cut off may lie behind
    return { log, kept };
  }

  /**
   * Changes as lines. Resolves when they have reached the disk. When it rejects, the log is as it was: what was written
   * of them goes at once, or where even that fails before anything else is written.
   */
  async append(changes: readonly Change[]): Promise<void> {
    if (this.torn) {
      await this.file.truncate(this.size);
      this.torn = false;
    }
    let at = this.size;
    try {
      for (const part of parts(changes)) at += await this.put(part, at);
      await this.file.datasync();
    } catch (e) {
      // Whole lines may stand behind the end; a start on them would take them for acknowledged.
      this.torn = true;
      await this.file.truncate(this.size).then(
        () => (this.torn = false),
        () => undefined,
      );
      throw e;
    }
    this.size = at;
  }

  private async put(text: string, at: number): Promise<number> {
    const bytes = Buffer.from(text);
    let done = 0;
    while (done < bytes.length)
      done += (await this.file.write(bytes, done, bytes.length - done, at + done)).bytesWritten;
    return done;
  }

  /** Is it time for a snapshot? The log then has as much as the last one, so that all snapshots cost no more than it. */
  get isLong(): boolean {
    return this.folding === null && this.size > Math.max(SHORT, this.snapshotSize);
  }

  /** Begins a new segment behind the change with this number. Nothing may be appended while this is under way. */
  async turn(at: number): Promise<void> {
    if (at === this.start) return;
    const next = await this.opens(join(this.folder, segmentName(at)));
    const before = this.file;
    await syncFolder(this.folder);
    [this.file, this.start, this.size, this.torn] = [next, at, 0, true];
    await before.close();
  }

  /**
   * Writes a snapshot while the server goes on, and puts the segments before the last aside. It does no harm that states
   * hold changes that are in that segment too.
   */
  fold(snapshot: HostSnapshot): Promise<void> {
    // Records are read when their turn comes, so that a second snapshot holds what came while the first was written.
    const folding = (this.folding ?? Promise.resolve())
      .catch(() => undefined)
      .then(() => this.foldNow(snapshot, this.start))
      .finally(() => {
        if (this.folding === folding) this.folding = null;
      });
    this.folding = folding;
    return folding;
  }

  private async foldNow({ states, known, forgotten, runChanges }: HostSnapshot, at: number): Promise<void> {
    const part = join(this.folder, `${SNAPSHOT}.part`);
    const file = await open(part, 'w');
    try {
      let text = `${JSON.stringify({ at, known, forgotten, runs: runChanges })}\n`;
      for (const state of states) {
        text += `${JSON.stringify(state)}\n`;
        if (text.length < PART) continue;
        await file.write(text);
        text = '';
      }
      await file.write(text);
      await file.sync();
      this.snapshotSize = (await file.stat()).size;
    } catch (e) {
      await file.close();
      await rm(part, { force: true });
      throw e;
    }
    await file.close();
    await rename(part, join(this.folder, SNAPSHOT));
    // The new name must be on the disk before what it replaces goes.
    await syncFolder(this.folder);
    this.putAside++;
    for (const start of await segments(this.folder)) if (start < at) await this.past.take(start);
    await this.past.synced();
    for (const old of [OLD_SNAPSHOT, OLD_LOG]) await rm(join(this.folder, old), { force: true });
  }

  async changesOf(record: string): Promise<Change[]> {
    // What is being put aside is found in one place or the other.
    await this.folding?.catch(() => undefined);
    const { start, size, putAside } = this;
    const found = await this.past.changesOf(record);
    for (const segment of await segments(this.folder)) {
      const upTo = segment === start ? size : Infinity;
      for await (const change of changesIn(join(this.folder, segmentName(segment)), record, upTo)) found.push(change);
    }
    // What was put aside meanwhile may have been missed in both places.
    return this.start === start && this.putAside === putAside ? found : this.changesOf(record);
  }

  async rewrite(of: Parameters<FoldedLog['rewrite']>[0]): Promise<void> {
    await this.past.rewrite(of);
    await rewriteLines(join(this.folder, DAMAGED), (line) => (of.holds(line.toString('utf8')) ? null : line));
  }

  async close(): Promise<void> {
    await this.folding?.catch(() => undefined);
    await this.file.close();
  }
}

/** Lines of changes, in texts that are not too long to be written at once. */
function* parts(changes: readonly Change[]): Generator<string> {
  let text = '';
  for (const c of changes) {
    text += `${JSON.stringify(c)}\n`;
    if (text.length < PART) continue;
    yield text;
    text = '';
  }
  if (text) yield text;
}

async function segments(folder: string): Promise<number[]> {
  const names = await readdir(folder);
  return names.flatMap((n) => segmentStart(n) ?? []).sort((a, b) => a - b);
}

async function readSnapshot(folder: string, kept: Kept, damage: Damage): Promise<void> {
  let first = true;
  for await (const line of linesOf(join(folder, SNAPSHOT))) {
    const head = first ? parsedLine(Head, line.bytes) : null;
    const state = head ? null : stateIn(line.bytes);
    if (head) {
      kept.at = head.at;
      kept.known = head.known ?? head.late.map((id) => [id, '']);
      kept.forgotten = head.forgotten;
      kept.runChanges = head.runs;
    } else if (state) kept.states.push(state);
    else damage.note(SNAPSHOT, line.from, line.bytes);
    first = false;
  }
  if (first) await readOld(folder, kept, damage);
}

/** Records as they were kept before snapshots were lines. They are written anew with the next fold. */
async function readOld(folder: string, kept: Kept, damage: Damage): Promise<void> {
  try {
    const old = OldSnapshot.parse(JSON.parse(await readFile(join(folder, OLD_SNAPSHOT), 'utf8')));
    kept.at = old.at;
    kept.states = old.states;
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
  }
  await readSegment(join(folder, OLD_LOG), kept, damage);
}

/** Adds the changes of a segment. Gives the bytes up to where its last whole line ends. */
async function readSegment(path: string, kept: Kept, damage: Damage): Promise<number> {
  let size = 0;
  for await (const { bytes, from, ended } of linesOf(path)) {
    // A line that a crash cut off was never acknowledged.
    if (!ended) break;
    size = from + bytes.length + 1;
    if (bytes.length === 0) continue;
    kept.at++;
    const change = changeIn(bytes);
    if (change) {
      kept.changes.push(change);
      continue;
    }
    damage.note(basename(path), from, bytes);
    const whole = behindHalf(bytes);
    if (whole) kept.changes.push(whole);
  }
  return size;
}

/** The whole change at the end of a line that begins with half of another; null when there is none. */
function behindHalf(bytes: Buffer): Change | null {
  const text = bytes.toString('utf8');
  for (let at = text.indexOf('{"', 1), tries = 0; at > 0 && tries < 500; at = text.indexOf('{"', at + 1), tries++) {
    const change = changeIn(text.slice(at));
    if (change) return change;
  }
  return null;
}

/** Lines that are no records: their bytes are kept beside the log, each once however often it is opened. */
class Damage {
  private readonly bytes: Buffer[] = [];
  constructor(private readonly said: string[]) {}

  note(file: string, from: number, bytes: Buffer): void {
    this.said.push(
      `${file}, byte ${from}: ${bytes.length} bytes are no line of records and were set aside in ${DAMAGED}.`,
    );
    this.bytes.push(bytes);
  }

  async keep(folder: string): Promise<void> {
    if (this.bytes.length === 0) return;
    const path = join(folder, DAMAGED);
    const already = await readFile(path).catch(() => Buffer.alloc(0));
    const fresh = this.bytes.filter((b) => !already.includes(b));
    if (fresh.length === 0) return;
    const file = await open(path, 'a');
    try {
      await file.appendFile(Buffer.concat(fresh.flatMap((b) => [b, Buffer.from('\n')])));
      await file.sync();
    } finally {
      await file.close();
    }
  }
}
