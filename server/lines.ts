import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';

const NEWLINE = 10;

/** A line of a file as bytes, without its end. */
export interface Line {
  bytes: Buffer;
  /** Where it begins in the file. */
  from: number;
  /** False for a last line that no line end follows. */
  ended: boolean;
}

/** The lines of a file of any size, one by one; nothing for a file that is not there. */
export async function* linesOf(path: string): AsyncGenerator<Line> {
  let rest: Buffer[] = [];
  let from = 0;
  try {
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      let at = 0;
      for (let end = chunk.indexOf(NEWLINE); end >= 0; end = chunk.indexOf(NEWLINE, at)) {
        const bytes = Buffer.concat([...rest, chunk.subarray(at, end)]);
        rest = [];
        yield { bytes, from, ended: true };
        from += bytes.length + 1;
        at = end + 1;
      }
      if (at < chunk.length) rest.push(chunk.subarray(at));
    }
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code === 'ENOENT') return;
    throw e;
  }
  if (rest.length) yield { bytes: Buffer.concat(rest), from, ended: false };
}

/** The whole lines of a file as texts, as many at once as a part of it has; nothing for a file that is not there. */
export async function* linesInParts(path: string): AsyncGenerator<string[]> {
  let rest: Buffer = Buffer.alloc(0);
  try {
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      const all = rest.length ? Buffer.concat([rest, chunk]) : chunk;
      const lines: string[] = [];
      let at = 0;
      for (let end = all.indexOf(NEWLINE); end >= 0; end = all.indexOf(NEWLINE, at)) {
        lines.push(all.toString('utf8', at, end));
        at = end + 1;
      }
      rest = all.subarray(at);
      if (lines.length) yield lines;
    }
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
  }
}

/** The bytes of a file up to the end of its last whole line; 0 for a file that is not there. */
export async function wholeBytes(path: string): Promise<number> {
  const file = await open(path, 'r').catch((e: NodeJS.ErrnoException) => {
    if (e.code !== 'ENOENT') throw e;
    return null;
  });
  if (!file) return 0;
  try {
    const block = Buffer.alloc(1 << 16);
    for (let end = (await file.stat()).size; end > 0;) {
      const from = Math.max(0, end - block.length);
      const { bytesRead } = await file.read(block, 0, end - from, from);
      const at = block.subarray(0, bytesRead).lastIndexOf(NEWLINE);
      if (at >= 0) return from + at + 1;
      end = from;
    }
    return 0;
  } finally {
    await file.close();
  }
}

/** The whole lines of a file that hold some bytes without a line end. Lines without them are not taken apart, which is several times faster. */
export async function* linesWith(path: string, held: Buffer): AsyncGenerator<Line> {
  let rest: Buffer = Buffer.alloc(0);
  /** Where the rest begins in the file. */
  let from = 0;
  try {
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      const all = rest.length ? Buffer.concat([rest, chunk]) : chunk;
      const end = all.lastIndexOf(NEWLINE);
      for (let hit = all.indexOf(held); hit >= 0 && hit < end;) {
        const start = all.lastIndexOf(NEWLINE, hit) + 1;
        const stop = all.indexOf(NEWLINE, hit);
        yield { bytes: all.subarray(start, stop), from: from + start, ended: true };
        hit = all.indexOf(held, stop);
      }
      rest = all.subarray(end + 1);
      from += end + 1;
    }
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
  }
}
