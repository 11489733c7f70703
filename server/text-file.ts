import { readFile } from 'node:fs/promises';
import type { TextPort } from '../core/document/kept-text.ts';
import { writeWhole } from './disk.ts';

/** One text that is kept in a file. */
export class TextFile implements TextPort {
  constructor(private readonly path: string) {}

  read(): Promise<string> {
    return readFile(this.path, 'utf8').catch((e: unknown) => {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return '';
      throw e;
    });
  }
  write(text: string): Promise<void> {
    return writeWhole(this.path, text);
  }
}
