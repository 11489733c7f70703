import type { App } from '../../core/app/schema.ts';
import { Claims } from '../../core/records/checks.ts';
import type { Records } from '../../core/records/store.ts';
import { Titles } from '../../core/records/titles.ts';
import type { Table } from '../../core/tables/schema.ts';
import type { Editing } from './editing.ts';
import { Importing, type ImportChange, type ImportPreview, type ImportResult } from './importing.ts';

/** Brings a file into a table that is there. */
export class ImportDesk {
  private readonly importing: Importing;

  constructor(
    private readonly records: Records,
    private readonly editing: Editing,
    private readonly app: () => App,
  ) {
    this.importing = new Importing(
      (d, claims) => editing.wrongWith(d, claims),
      () => new Claims(records),
      () => new Titles(records),
    );
  }

  private tableOf(id: string): Table {
    return this.app().tables.find((t) => t.id === id)!;
  }

  read(table: string, file: string, bytes: Uint8Array | null, size: number): Promise<ImportPreview> {
    return this.importing.read(this.tableOf(table), this.records.rows(table), file, bytes, size);
  }
  plan(table: string, change: ImportChange): ImportPreview {
    return this.importing.change(this.tableOf(table), this.records.rows(table), change);
  }
  run(progress: (done: number, of: number) => void): Promise<ImportResult> {
    return this.importing.run((drafts) => this.editing.edit(drafts), progress);
  }
  stop(): void {
    this.importing.stop();
  }
}
