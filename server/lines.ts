import { createReadStream } from 'node:fs';

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
