import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { z } from 'zod';
import { makeFolder, writeWhole } from '../disk.ts';

/** A list that a stand-in keeps in a file, so that it is there after a restart. */
export class KeptJson<T> {
  private turn: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly path: string,
    readonly list: T[],
  ) {}

  /** What is kept; nothing where no file is there, or none that can be read. */
  static async open<T>(folder: string, name: string, schema: z.ZodType<T[]>): Promise<KeptJson<T>> {
    const path = join(folder, `${name}.json`);
    await makeFolder(folder);
    const text = await readFile(path, 'utf8').catch(() => '[]');
    let kept: T[] = [];
    try {
      kept = schema.parse(JSON.parse(text));
    } catch {
      // A stand-in that cannot read what it kept begins anew.
    }
    return new KeptJson(path, kept);
  }

  /** Writes the list as it is now. */
  save(): Promise<void> {
    const after = this.turn.then(() => writeWhole(this.path, JSON.stringify(this.list)));
    this.turn = after.catch(() => undefined);
    return after;
  }
}
