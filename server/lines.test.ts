import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { linesInParts, linesOf, linesWith, wholeBytes, type Line } from './lines.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-lines-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const listed = async (lines: AsyncGenerator<Line>): Promise<[string, number][]> => {
  const all: [string, number][] = [];
  for await (const l of lines) if (l.ended) all.push([l.bytes.toString('utf8'), l.from]);
  return all;
};

describe('the whole lines of a file in parts', () => {
  const texts = async (path: string): Promise<string[]> => {
    const all: string[] = [];
    for await (const part of linesInParts(path)) all.push(...part);
    return all;
  };
  it('are all of them, and end where the last whole one does (property)', async () => {
    const path = join(folder, 'parts.txt');
    const line = fc.oneof(
      { weight: 8, arbitrary: fc.string({ unit: fc.constantFrom('a', 'ü', ' '), maxLength: 6 }) },
      { weight: 1, arbitrary: fc.constantFrom('x'.repeat(70_000), 'ü'.repeat(700_000)) },
    );
    await fc.assert(
      fc.asyncProperty(fc.array(line, { maxLength: 9 }), line, async (lines, torn) => {
        const whole = lines.map((l) => `${l}\n`).join('');
        await writeFile(path, whole + torn);
        expect(await texts(path)).toEqual(lines);
        expect(await wholeBytes(path)).toBe(Buffer.byteLength(whole));
      }),
      { numRuns: 40 },
    );
  });
  it('are none of a file that is not there', async () => {
    const path = join(folder, 'nothing.txt');
    expect([await texts(path), await wholeBytes(path)]).toEqual([[], 0]);
  });
});

describe('the lines of a file that hold some bytes', () => {
  it('are those of all its whole lines that do, however long they are (property)', async () => {
    const path = join(folder, 'a.txt');
    const line = fc.oneof(
      { weight: 8, arbitrary: fc.string({ unit: fc.constantFrom('a', 'b', 'ü'), maxLength: 6 }) },
      { weight: 1, arbitrary: fc.constantFrom('x'.repeat(1_100_000), `${'x'.repeat(1_048_570)}aab${'y'.repeat(20)}`) },
    );
    await fc.assert(
      fc.asyncProperty(
        fc.array(line, { maxLength: 12 }),
        fc.constantFrom('a', 'aab', 'ü', 'ab'),
        async (lines, held) => {
          await writeFile(path, lines.join('\n'));
          const wanted = (await listed(linesOf(path))).filter(([text]) => text.includes(held));
          expect(await listed(linesWith(path, Buffer.from(held)))).toEqual(wanted);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('are none of a file that is not there', async () => {
    expect(await listed(linesWith(join(folder, 'none'), Buffer.from('a')))).toEqual([]);
  });
});
