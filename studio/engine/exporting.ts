import { askedElsewhere, type AskedHost } from '../../core/app/asked-elsewhere.ts';
import type { App } from '../../core/app/schema.ts';
import { keptIn } from '../../core/fields/kept-file.ts';
import { recordsOf, type Bundle } from '../../core/formats/bundle.ts';
import { exportTable } from '../../core/formats/exported.ts';
import { isRemoved, type Replica } from '../../core/host/replica.ts';
import type { Files } from '../../core/phone/files.ts';
import type { Records } from '../../core/records/store.ts';
import { writable } from '../../core/formats/formats.ts';

/** What leaves an app as files, and whom it asks elsewhere. */
export class Exporting {
  constructor(
    private readonly records: Records,
    private readonly replica: Replica,
    private readonly files: Files,
    private readonly app: () => App,
  ) {}

  /** The bytes of a table in a format, by its id. */
  async table(table: string, format: string): Promise<Uint8Array> {
    return writable()
      .find((f) => f.id === format)!
      .write(exportTable(this.records, table));
  }

  /** Every table, and the files that records hold, as a zip. */
  async all(): Promise<Uint8Array> {
    const { toArchive } = await import('../../core/formats/archive.ts');
    return toArchive(this.app(), this.records, (hash) => this.bytesOf(hash));
  }

  /** What an exported app has of its records, and the names of files that could not be had. */
  async bundled(): Promise<Pick<Bundle, 'records' | 'files'> & { lost: string[] }> {
    const states = [...this.replica.all()].filter((s) => !isRemoved(s));
    const [files, lost]: [Bundle['files'], string[]] = [{}, []];
    for (const s of states)
      for (const file of keptIn(s.cells)) {
        const content = files[file.hash] ?? (await this.bytesOf(file.hash));
        if (content) files[file.hash] = content;
        else lost.push(file.name || 'a file');
      }
    return { records: recordsOf(states), files, lost };
  }

  private async bytesOf(hash: string): Promise<Uint8Array | null> {
    const content = await this.files.bytes(hash);
    return content && new Uint8Array(await content.arrayBuffer());
  }

  /** The hosts that the app asks, and those that its records would have it ask. */
  elsewhere(): AskedHost[] {
    return askedElsewhere(this.app(), this.records);
  }
}
