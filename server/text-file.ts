import { readFile, rename, writeFile } from 'node:fs/promises';
import type { TextPort } from '../core/document/kept-text.ts';
import { writeWhole } from './disk.ts';

/** One text that is kept in a file. */
export class TextFile implements TextPort {
  /** `mayBeLost`: after a power cut it may be as before, or nothing; so nobody waits for the disk. */
  constructor(
    private readonly path: string,
    private readonly mayBeLost = false,
    /** The mode of the file, where others on this machine may not read it. */
    private readonly mode?: number,
  ) {}

  read(): Promise<string> {
    return readFile(this.path, 'utf8').catch((e: unknown) => {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return '';
      throw e;
    });
  }
  async write(text: string): Promise<void> {
    if (!this.mayBeLost) return writeWhole(this.path, text, this.mode);
    await writeFile(`${this.path}.part`, text);
    await rename(`${this.path}.part`, this.path);
  }
}
