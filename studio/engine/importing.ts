import { UnreadableError } from '../../core/app/document.ts';
import type { Table } from '../../core/app/schema.ts';
import { draftTable, type TableDraft, type Unread } from '../../core/formats/infer.ts';
import { likelyKeys, matchColumns, planMerge, type Mapping, type MergePlan } from '../../core/formats/reimport.ts';
import { MAX_FILE_BYTES, readSheets } from '../../core/formats/sheets.ts';
import type { Draft } from '../../core/host/change.ts';
import { newRecordId } from '../../core/host/device.ts';
import type { StoredRecord } from '../../core/records/store.ts';

/** What bringing a file into a table would do, as the studio shows it. */
export interface ImportPreview {
  sheets: string[];
  sheet: number;
  columns: { name: string; sample: string }[];
  mapping: Mapping;
  keys: string[];
  added: number;
  changed: number;
  same: number;
  refused: Unread[];
  refusedCount: number;
  /** Records that the file does not mention. */
  gone: number;
}

export interface ImportChange {
  sheet?: number;
  mapping?: Mapping;
  keys?: string[];
}

/** A file on its way into a table: read once, planned again whenever the maker changes how it fits. */
export class Importing {
  private now: { drafts: TableDraft[]; sheet: number; mapping: Mapping; keys: string[]; plan: MergePlan } | null = null;

  async read(
    table: Table,
    present: readonly StoredRecord[],
    file: string,
    bytes: Uint8Array | null,
    size: number,
  ): Promise<ImportPreview> {
    if (!bytes)
      throw new UnreadableError(
        `“${file}” has ${Math.round(size / 1_048_576)} MB; the largest file read here has ${MAX_FILE_BYTES / 1_048_576} MB.`,
      );
    const drafts = (await readSheets(file, bytes)).map((s) => draftTable(s));
    // Of several sheets, the one whose columns fit best.
    const fits = drafts.map((d) => matchColumns(table, d).filter(Boolean).length);
    return this.plan(table, present, drafts, fits.indexOf(Math.max(...fits)));
  }

  change(table: Table, present: readonly StoredRecord[], change: ImportChange): ImportPreview {
    const now = this.now!;
    if (change.sheet !== undefined) return this.plan(table, present, now.drafts, change.sheet);
    const mapping = change.mapping ?? now.mapping;
    const keys = (change.keys ?? now.keys).filter((k) => mapping.includes(k));
    return this.plan(table, present, now.drafts, now.sheet, mapping, keys);
  }

  /** The changes planned last. */
  drafts(): Draft[] {
    return this.now ? [...this.now.plan.add, ...this.now.plan.change] : [];
  }

  private plan(
    table: Table,
    present: readonly StoredRecord[],
    drafts: TableDraft[],
    sheet: number,
    mapping?: Mapping,
    keys?: string[],
  ): ImportPreview {
    const draft = drafts[sheet]!;
    const columns = mapping ?? matchColumns(table, draft);
    const by = keys ?? likelyKeys(table, columns);
    const plan = planMerge(table, present, draft, columns, by, newRecordId);
    this.now = { drafts, sheet, mapping: columns, keys: by, plan };
    return {
      sheets: drafts.map((d) => d.name),
      sheet,
      columns: draft.columns.map((c) => ({ name: c.name, sample: c.samples[0] ?? '' })),
      mapping: columns,
      keys: by,
      added: plan.add.length,
      changed: plan.change.length,
      same: plan.same,
      refused: plan.refused.slice(0, 5000),
      refusedCount: plan.refused.length,
      gone: by.length ? present.length - plan.change.length - plan.same : 0,
    };
  }
}
