import type * as Fs from 'node:fs/promises';
import type { FileHandle } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';

/**
 * Watches what is done on a disk, for tests of what a power cut would leave. POSIX promises the content of a file after
 * fsync of it, and its name after fsync of its folder; nothing else, and in no order.
 */
export class WatchedDisk {
  /** Files whose content is not on the disk, and folders of which a name is not. */
  private readonly content = new Set<string>();
  private readonly names = new Map<string, Set<string>>();
  /** What would have been lost at some moment, in words. */
  readonly lost: string[] = [];

  /** The functions of `node:fs/promises`, watched. */
  watch(fs: typeof Fs): typeof Fs {
    return {
      ...fs,
      open: (async (path: string, ...rest: [string?, number?]) => {
        const isThere = await fs.stat(path).catch(() => null);
        const handle = await fs.open(path, ...rest);
        if (!isThere) this.named(path);
        if (rest[0] === 'w' && isThere) this.content.add(resolve(path));
        return this.handle(handle, path, isThere?.isDirectory() ?? false);
      }) as typeof Fs.open,
      writeFile: (async (path: string, ...rest: [string]) => {
        this.named(path);
        this.content.add(resolve(path));
        return fs.writeFile(path, ...rest);
      }) as typeof Fs.writeFile,
      mkdir: (async (path: string, options: object) => {
        const first = (await fs.mkdir(path, options)) as string | undefined;
        if (first !== undefined)
          for (let made = resolve(path); made.length >= resolve(first).length; made = dirname(made)) this.named(made);
        return first;
      }) as typeof Fs.mkdir,
      rename: (async (from: string, to: string) => {
        if (this.content.has(resolve(from))) this.lost.push(`${to} was renamed before its content was on the disk`);
        this.unnamed(from);
        this.named(to);
        return fs.rename(from, to);
      }) as typeof Fs.rename,
      link: (async (from: string, to: string) => {
        if (this.content.has(resolve(from))) this.lost.push(`${to} was named before its content was on the disk`);
        this.named(to);
        return fs.link(from, to);
      }) as typeof Fs.link,
      rm: (async (path: string, options: object) => {
        this.unnamed(path);
        this.content.delete(resolve(path));
        const others = [...(this.names.get(dirname(resolve(path))) ?? [])].filter((n) => !n.endsWith('.part'));
        if (others.length && !path.endsWith('.part'))
          this.lost.push(`${path} was removed before the name of ${others.join()} was on the disk`);
        return fs.rm(path, options);
      }) as typeof Fs.rm,
    };
  }

  private handle(handle: FileHandle, path: string, isFolder: boolean): FileHandle {
    const on = resolve(path);
    const writes = new Set(['write', 'writeFile', 'appendFile', 'truncate']);
    return new Proxy(handle, {
      get: (of, name) => {
        const value = (of as unknown as Record<string | symbol, unknown>)[name];
        if (typeof value !== 'function') return value;
        return async (...given: unknown[]) => {
          if (writes.has(String(name))) this.content.add(on);
          const result = (await value.apply(of, given)) as unknown;
          if (name === 'sync' || name === 'datasync') {
            if (isFolder) this.names.delete(on);
            else this.content.delete(on);
          }
          return result;
        };
      },
    });
  }

  private named(path: string): void {
    const on = resolve(path);
    const folder = this.names.get(dirname(on)) ?? new Set();
    this.names.set(dirname(on), folder.add(on));
  }
  private unnamed(path: string): void {
    this.names.get(dirname(resolve(path)))?.delete(resolve(path));
  }

  /** What a power cut now would lose or leave half, in words. What is a part on its way was promised to nobody. */
  losses(): string[] {
    const unnamed = [...this.names.values()].flatMap((names) => [...names]);
    return [
      ...this.lost,
      ...[...this.content].filter((p) => !p.endsWith('.part')).map((p) => `the content of ${p}`),
      ...unnamed.filter((p) => !p.endsWith('.part')).map((p) => `the name of ${p}`),
    ];
  }
}
