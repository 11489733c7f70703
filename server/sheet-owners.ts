import { readFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import { notThere, type Listed, type SheetsPort, type Stamp } from '../core/mirror/sheets.ts';
import type { SheetsFolder } from './sheets-folder.ts';
import { makeFolder, writeWhole } from './disk.ts';

/** A holder of a key may have so many files in the sheets folder. */
const MOST_FILES = 100;

const OwnersFile = z.record(z.string(), z.string());

/**
 * Whose the files in the sheets folder are: each belongs to the key that mirrored or made it first. Files that nobody
 * has yet may be taken by anyone only where the operator says so.
 */
export class SheetOwners {
  private owners = new Map<string, string>();
  private readonly shared: readonly RegExp[];
  private saving: Promise<void> = Promise.resolve();

  /** `shared` names files that anyone may take who releases an app here; `*` stands for any letters. */
  constructor(
    private readonly path: string,
    shared: readonly string[] = [],
  ) {
    this.shared = shared.map(
      (p) => new RegExp(`^${p.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replace(/\*+/g, '.*')}$`, 'i'),
    );
  }

  async load(): Promise<void> {
    try {
      this.owners = new Map(Object.entries(OwnersFile.parse(JSON.parse(await readFile(this.path, 'utf8')))));
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
    }
  }

  /** May the holder of this key see, read and write the file? */
  mayUse(key: string, file: string): boolean {
    const owner = this.owners.get(file);
    return owner === undefined ? this.shared.some((p) => p.test(file)) : owner === key;
  }

  isFree(file: string): boolean {
    return !this.owners.has(file);
  }

  /** The file is this key's from now on. Throws {@link Refused} when it has too many. */
  async claim(key: string, file: string): Promise<void> {
    if (this.owners.get(file) === key) return;
    let count = 0;
    for (const owner of this.owners.values()) if (owner === key) count++;
    if (count >= MOST_FILES)
      throw new Refused(422, `At most ${MOST_FILES} files can be mirrored with one key. Stop mirroring one first.`);
    this.owners.set(file, key);
    await this.save();
  }

  /** Nobody's again. */
  async release(key: string, file: string): Promise<void> {
    if (this.owners.get(file) !== key) return;
    this.owners.delete(file);
    await this.save();
  }

  /** The same, asked for one key. */
  of(key: () => string): OwnersPort {
    return {
      mayUse: (file) => this.mayUse(key(), file),
      isFree: (file) => this.isFree(file),
      claim: (file) => this.claim(key(), file),
      release: (file) => this.release(key(), file),
    };
  }

  private save(): Promise<void> {
    this.saving = this.saving
      .catch(() => undefined)
      .then(async () => {
        await makeFolder(dirname(this.path));
        await writeWhole(this.path, JSON.stringify(Object.fromEntries(this.owners)));
      });
    return this.saving;
  }
}

/** Whose files are, asked for the key of one app. */
export interface OwnersPort {
  mayUse(file: string): boolean | Promise<boolean>;
  isFree(file: string): boolean | Promise<boolean>;
  claim(file: string): Promise<void>;
  release(file: string): Promise<void>;
}

/** The sheets folder as the holder of one key has it: other people's files are not there. */
export class OwnSheets implements SheetsPort {
  constructor(
    private readonly folder: SheetsFolder,
    private readonly owners: OwnersPort,
  ) {}

  async list(): Promise<Listed[]> {
    const mine = new Set<string>();
    for (const name of await this.folder.names()) if (await this.owners.mayUse(name)) mine.add(name);
    return this.folder.list((name) => mine.has(name));
  }

  /** Null when there is no such file, or it is not this key's. */
  async stamp(name: string): Promise<Stamp | null> {
    return (await this.owners.mayUse(name)) ? this.folder.stamp(name) : null;
  }

  async read(name: string): Promise<Uint8Array> {
    await this.check(name);
    return this.folder.read(name);
  }

  async write(name: string, bytes: Uint8Array): Promise<void> {
    await this.check(name);
    return this.folder.write(name, bytes);
  }

  isOpenElsewhere(name: string): Promise<boolean> {
    return this.folder.isOpenElsewhere(name);
  }

  /** The name a file of this key has now that was known by another; nobody else's name. */
  async findByInode(inode: number): Promise<string | null> {
    const name = await this.folder.findByInode(inode);
    return name !== null && (await this.isOpenTo(name)) ? name : null;
  }

  /** Makes a new file, which is this key's. */
  async create(name: string, content: () => Promise<Uint8Array>): Promise<void> {
    if ((await this.folder.stamp(name)) || !(await this.owners.isFree(name)))
      throw new Refused(409, `There is a file “${name}” already. Choose another name.`);
    await this.owners.claim(name);
    try {
      await this.folder.write(name, await content());
    } catch (e) {
      await this.owners.release(name);
      throw e;
    }
  }

  /** The file is this key's from now on. */
  async claim(name: string): Promise<void> {
    if (!(await this.isOpenTo(name))) throw new Refused(404, notThere(name));
    await this.owners.claim(name);
  }

  private async isOpenTo(name: string): Promise<boolean> {
    return (await this.owners.mayUse(name)) || (await this.owners.isFree(name));
  }

  private async check(name: string): Promise<void> {
    if (!(await this.owners.mayUse(name))) throw new Refused(404, notThere(name));
  }
}
