import { open, rename, stat, type FileHandle } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { RunsPort } from '../core/runs/lines.ts';
import { syncFolder } from './disk.ts';
import { linesInParts, wholeBytes } from './lines.ts';

/** Lines are written in parts of so many characters, where all are written anew. */
const PART = 1 << 20;

/** The runs of one app as lines of JSON in a file. What a power cut left half-written is not there. */
export class RunsFile implements RunsPort {
  private file: FileHandle | null = null;
  /** Bytes that are promised; whatever lies behind them was not. */
  private bytes = 0;
  private torn = false;

  private constructor(private readonly path: string) {}

  static async open(path: string): Promise<RunsFile> {
    const file = new RunsFile(path);
    file.bytes = await wholeBytes(path);
    file.torn = true;
    return file;
  }

  get size(): number {
    return this.bytes;
  }

  async *read(): AsyncIterable<string> {
    for await (const part of this.parts()) yield* part;
  }
  parts(): AsyncIterable<readonly string[]> {
    return linesInParts(this.path);
  }

  private async opened(): Promise<FileHandle> {
    if (!this.file) {
      const isNew = await stat(this.path).then(
        () => false,
        () => true,
      );
      this.file = await open(this.path, isNew ? 'w+' : 'r+', 0o600);
      if (isNew) await syncFolder(dirname(this.path));
    }
    if (this.torn) {
      await this.file.truncate(this.bytes);
      this.torn = false;
    }
    return this.file;
  }

  async append(lines: readonly string[]): Promise<void> {
    if (lines.length === 0) return;
    const file = await this.opened();
    const bytes = Buffer.from(`${lines.join('\n')}\n`);
    try {
      for (let done = 0; done < bytes.length;)
        done += (await file.write(bytes, done, bytes.length - done, this.bytes + done)).bytesWritten;
      await file.datasync();
    } catch (e) {
      this.torn = true;
      throw e;
    }
    this.bytes += bytes.length;
  }

  async rewrite(lines: AsyncIterable<string>): Promise<void> {
    const part = `${this.path}.part`;
    const file = await open(part, 'w', 0o600);
    let bytes = 0;
    try {
      let text = '';
      const put = async (): Promise<void> => {
        bytes += (await file.write(text)).bytesWritten;
        text = '';
      };
      for await (const line of lines) {
        text += `${line}\n`;
        if (text.length > PART) await put();
      }
      if (text) await put();
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(part, this.path);
    await syncFolder(dirname(this.path));
    await this.file?.close();
    this.file = null;
    this.bytes = bytes;
    this.torn = false;
  }

  async close(): Promise<void> {
    await this.file?.close();
    this.file = null;
  }
}
