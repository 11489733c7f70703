import { once } from '../document/once.ts';
import { fromBase64 } from '../document/base64.ts';
import { fileName, fileType, KEPT, readKeptAddress } from '../fields/kept-address.ts';
import { keptAddress, keptIn, MOST_FILE_BYTES, tooLarge } from '../fields/kept-file.ts';
import type { RecordState } from '../records/change.ts';

const hashing = once(() => import('./hash.ts'));

/** Where a device keeps the content of files. */
export interface FileStore {
  file(hash: string): Promise<Blob | null>;
  keepFile(hash: string, content: Blob): Promise<void>;
  forgetFiles(used: ReadonlySet<string>, before: number): Promise<void>;
}

/** The addresses of kept files, wherever they stand. */
const HELD = new RegExp(`${KEPT}([A-Za-z0-9_-]{43})`, 'g');

/** Files that were chosen and never written into a record go after so long. */
const LOOSE_MS = 24 * 3_600_000;

/** The files that records hold, on this device: kept when they are chosen, fetched from the host when they are shown. */
export class Files {
  private readonly coming = new Map<string, Promise<Blob | null>>();

  constructor(
    private readonly store: FileStore,
    /** Fetches a file from the host; null when it is not there or there is no host. */
    private readonly fetched: (hash: string) => Promise<Blob | null>,
  ) {}

  /** Keeps a file and gives the address that a record holds it by. Throws in words when it cannot be kept. */
  async keep(content: Blob, name: string): Promise<string> {
    if (content.size === 0) throw new Error(`${name ? `“${name}”` : 'The file'} is empty. Choose another one.`);
    if (content.size > MOST_FILE_BYTES) throw new Error(tooLarge({ name, size: content.size }));
    const { keptFile } = await hashing();
    const file = keptFile(new Uint8Array(await content.arrayBuffer()), content.type.split(';')[0]!, name);
    await this.store.keepFile(file.hash, content);
    return keptAddress(file);
  }

  /** Keeps the file that a data address (RFC 2397) holds. The same address where it cannot be read. */
  async keepAddress(data: string): Promise<string> {
    const base64 = /^data:[^,]*;base64,(.*)$/.exec(data)?.[1];
    if (base64 === undefined) return data;
    try {
      const name = fileName(data);
      const type = fileType(data) ?? '';
      return await this.keep(new Blob([fromBase64(base64) as BlobPart], { type }), name.includes('.') ? name : '');
    } catch {
      return data;
    }
  }

  /** The content behind an address; null when it is neither here nor on the host. */
  read(address: string): Promise<Blob | null> {
    const file = readKeptAddress(address);
    return file ? this.bytes(file.hash) : Promise.resolve(null);
  }

  /** The content of a file by its hash; null when it is neither here nor on the host. */
  bytes(hash: string): Promise<Blob | null> {
    const coming = this.coming.get(hash) ?? this.bring(hash).finally(() => this.coming.delete(hash));
    this.coming.set(hash, coming);
    return coming;
  }

  private async bring(hash: string): Promise<Blob | null> {
    const here = await this.store.file(hash);
    if (here) return here;
    const content = await this.fetched(hash);
    if (!content) return null;
    const { hashOf } = await hashing();
    if (hashOf(new Uint8Array(await content.arrayBuffer())) !== hash) return null;
    // It is seen also where there is no room to keep it.
    await this.store.keepFile(hash, content).catch(() => undefined);
    return content;
  }

  /**
   * Lets go of files that nothing holds any more: no record, and nothing else on this device, such as variables and
   * runs that wait, which `others` names.
   */
  async tidy(states: Iterable<RecordState>, ...others: unknown[]): Promise<void> {
    const used = new Set<string>();
    for (const [, hash] of JSON.stringify(others).matchAll(HELD)) used.add(hash!);
    for (const s of states) {
      for (const f of keptIn(s.cells)) used.add(f.hash);
      // What was removed here can be brought back.
      for (const [cell] of Object.values(s.was ?? {})) for (const f of keptIn({ cell })) used.add(f.hash);
    }
    await this.store.forgetFiles(used, Date.now() - LOOSE_MS);
  }
}
