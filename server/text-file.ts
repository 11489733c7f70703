import { open, readFile, rename } from 'node:fs/promises';
import type { TextPort } from '../core/document/kept-text.ts';

/** Writes a file so that it is either the old one or the new one, whole, even if the power fails. */
export async function writeWhole(path: string, content: string | Uint8Array): Promise<void> {
  const part = `${path}.part`;
  const file = await open(part, 'w');
  try {
    await file.writeFile(content);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(part, path);
}

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
