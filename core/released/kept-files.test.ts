import { describe, expect, it } from 'vitest';
import { hashOf } from '../fields/keep-file.ts';
import { KeptFiles } from './kept-files.ts';
import { MemoryFiles } from './memory.ts';

const file = (fill: number, size: number): { hash: string; bytes: Uint8Array } => {
  const bytes = new Uint8Array(size).fill(fill);
  return { hash: hashOf(bytes), bytes };
};

describe('how much an app may keep', () => {
  it('counts what was there before its host began', async () => {
    const disk = new MemoryFiles(() => 0);
    const [a, b, c] = [file(1, 600), file(2, 500), file(3, 400)];
    await new KeptFiles(disk, 1000, () => 0).take(a!.hash, 600, 0, a!.bytes);
    // The host begins anew, and the first thing that it is sent does not fit any more.
    const again = new KeptFiles(disk, 1000, () => 0);
    await expect(again.take(b!.hash, 500, 0, b!.bytes)).rejects.toMatchObject({ status: 507 });
    expect(await again.take(c!.hash, 400, 0, c!.bytes)).toEqual({ offset: 400, complete: true });
    await expect(again.take(b!.hash, 500, 0, b!.bytes)).rejects.toMatchObject({ status: 507 });
  });
});
