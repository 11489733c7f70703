import { copyFile, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Change, RecordState } from '../core/records/change.ts';
import { makeFolder, syncFolder } from './disk.ts';
import { linesOf, linesWith } from './lines.ts';
import { changeIn, segmentName, segmentStart, stateIn } from './record-lines.ts';

const FOLDER = 'past';
const END = Buffer.from('\n');
/** So many lines and ends of lines are written at once. */
const AT_ONCE = 4000;
/** The records as they were when their past began to be kept. */
const BEGAN = 'began.jsonl';

/**
 * The changes of an app that its snapshot holds already, in the segments of the log that they came in: read for the
 * history of one record, never at the start.
 */
export class PastLog {
  private readonly folder: string;

  private constructor(private readonly log: string) {
    this.folder = join(log, FOLDER);
  }

  /** Opens what is kept beside a log. The first time, the records of its snapshot are kept as what all began with. */
  static async open(log: string, snapshot: string): Promise<PastLog> {
    const past = new PastLog(log);
    const names = await readdir(past.folder).catch(() => null);
    if (names?.includes(BEGAN)) return past;
    await makeFolder(past.folder);
    const part = join(past.folder, `${BEGAN}.part`);
    await copyFile(join(log, snapshot), part).catch(async (e: NodeJS.ErrnoException) => {
      if (e.code !== 'ENOENT') throw e;
      await (await open(part, 'w')).close();
    });
    await rename(part, join(past.folder, BEGAN));
    await syncFolder(past.folder);
    return past;
  }

  /** Puts a segment aside that the snapshot holds. */
  async take(start: number): Promise<void> {
    await rename(join(this.log, segmentName(start)), join(this.folder, segmentName(start)));
  }
  /** What was put aside is under its new names when this resolves. */
  synced(): Promise<void> {
    return syncFolder(this.folder);
  }

  private async segments(): Promise<number[]> {
    return (await readdir(this.folder)).flatMap((n) => segmentStart(n) ?? []).sort((a, b) => a - b);
  }

  /** All changes of a record that were put aside; what it was before as changes that nobody is known to have made. */
  async changesOf(record: string): Promise<Change[]> {
    const found: Change[] = [];
    for await (const { bytes } of linesWith(join(this.folder, BEGAN), Buffer.from(`"id":"${record}"`))) {
      const state = stateIn(bytes);
      if (state?.id === record) found.push(...asChanges(state));
    }
    for (const start of await this.segments())
      for await (const change of changesIn(join(this.folder, segmentName(start)), record)) found.push(change);
    return found;
  }

  /**
   * Rewrites every line of what is put aside; null takes it out, and so goes what is no line of records, since nobody can
   * say whose it is. A file is either as it was or whole as it becomes.
   */
  async rewrite(of: { state(s: RecordState): RecordState | null; change(c: Change): Change | null }): Promise<void> {
    await rewriteLines(join(this.folder, BEGAN), (line) => {
      const state = stateIn(line);
      return state && of.state(state);
    });
    for (const start of await this.segments())
      await rewriteLines(join(this.folder, segmentName(start)), (line) => {
        const change = changeIn(line);
        return change && of.change(change);
      });
    await syncFolder(this.folder);
  }
}

/** The changes of a record in a segment, up to a byte. */
export async function* changesIn(path: string, record: string, size = Infinity): AsyncGenerator<Change> {
  for await (const { bytes, from } of linesWith(path, Buffer.from(`"record":"${record}"`))) {
    if (from + bytes.length >= size) return;
    const change = changeIn(bytes);
    if (change?.record === record) yield change;
  }
}

/** A state as the changes that would give it: one for each time at which cells of it were written. */
function asChanges({ table, id, cells, stamp, stamps = {}, removed, restored }: RecordState): Change[] {
  const times = new Map<string, Change & { do: 'set' }>();
  for (const [field, cell] of Object.entries(cells)) {
    const at = stamps[field] ?? stamp;
    const known = times.get(at);
    if (known) known.cells[field] = cell;
    else
      times.set(at, {
        do: 'set',
        id: `${at} ${id}`.slice(0, 60),
        stamp: at,
        table,
        record: id,
        cells: { [field]: cell },
      });
  }
  const gone: Change[] =
    removed && !(restored && restored > removed)
      ? [{ do: 'remove', id: `${removed} ${id}`.slice(0, 60), stamp: removed, table, record: id }]
      : [];
  return [...times.values(), ...gone];
}

/** Writes a file anew, line by line, where it is there; null takes a line out, an object is written as JSON. */
export async function rewriteLines(path: string, of: (line: Buffer) => object | Buffer | null): Promise<void> {
  if (!(await stat(path).catch(() => null))) return;
  const part = `${path}.part`;
  const file = await open(part, 'w');
  try {
    const lines: Buffer[] = [];
    for await (const { bytes } of linesOf(path)) {
      const kept = of(bytes);
      if (kept) lines.push(Buffer.isBuffer(kept) ? kept : Buffer.from(JSON.stringify(kept)), END);
      if (lines.length < AT_ONCE) continue;
      await file.write(Buffer.concat(lines.splice(0)));
    }
    await file.write(Buffer.concat(lines));
    await file.sync();
  } catch (e) {
    await file.close();
    await rm(part, { force: true });
    throw e;
  }
  await file.close();
  await rename(part, path);
}
