import { joined, type Written } from '../../core/host/undo.ts';
import type { Table } from '../../core/tables/schema.ts';
import { draftTable, type TableDraft, type Unread } from '../../core/formats/infer.ts';
import { likelyKeys, matchColumns, planMerge, type Mapping, type MergePlan } from '../../core/formats/reimport.ts';
import { readSheets, tooLarge } from '../../core/formats/read.ts';
import type { Draft } from '../../core/records/change.ts';
import { newRecordId } from '../../core/host/device.ts';
import type { DayOrder } from '../../core/fields/read-text.ts';
import type { Claims } from '../../core/records/checks.ts';
import type { StoredRecord } from '../../core/records/store.ts';
import type { Titles } from '../../core/records/titles.ts';

/** What bringing a file into a table would do, as the studio shows it. */
export interface ImportPreview {
  sheets: string[];
  sheet: number;
  columns: ImportColumn[];
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

/** A column of the file, with what could be read in two ways. */
export interface ImportColumn {
  name: string;
  sample: string;
  dayOrder: DayOrder;
  /** Nothing in the column tells whether days or months come first. */
  ambiguous: boolean;
  decimal: '.' | ',';
}

/** What became of an import: how far it came, and what was refused on the way. */
export interface ImportResult {
  done: number;
  stopped: boolean;
  refused: Unread[];
  /** The changes that would undo it. */
  written: Written;
}

export interface ImportChange {
  /** Reads a column of the file in another way. */
  column?: { at: number; dayOrder?: DayOrder; decimal?: '.' | ',' };
  sheet?: number;
  mapping?: Mapping;
  keys?: string[];
}

/** Changes made at once; between the parts the studio shows how far it is. */
const PART = 1000;

/** A file on its way into a table: read once, planned again whenever the maker changes how it fits. */
export class Importing {
  private now: { drafts: TableDraft[]; sheet: number; mapping: Mapping; keys: string[]; plan: MergePlan } | null = null;
  private stopped = false;

  /** `problem` says why a change cannot be made, beyond what a single cell shows. */
  constructor(
    private readonly problem: (draft: Draft, claims?: Claims) => string | null,
    private readonly claims: () => Claims,
    private readonly titles: () => Titles,
  ) {}

  async read(
    table: Table,
    present: readonly StoredRecord[],
    file: string,
    bytes: Uint8Array | null,
    size: number,
  ): Promise<ImportPreview> {
    if (!bytes) throw tooLarge(file, size);
    const drafts = (await readSheets(file, bytes)).map((s) => draftTable(s));
    // Of several sheets, the one whose columns fit best.
    const fits = drafts.map((d) => matchColumns(table, d).filter(Boolean).length);
    return this.plan(table, present, drafts, fits.indexOf(Math.max(...fits)));
  }

  change(table: Table, present: readonly StoredRecord[], change: ImportChange): ImportPreview {
    const now = this.now!;
    if (change.sheet !== undefined) return this.plan(table, present, now.drafts, change.sheet);
    if (change.column) {
      const { at, ...how } = change.column;
      Object.assign(now.drafts[now.sheet]!.columns[at]!, how, how.dayOrder && { ambiguous: false });
    }
    const mapping = change.mapping ?? now.mapping;
    const keys = (change.keys ?? now.keys).filter((k) => mapping.includes(k));
    return this.plan(table, present, now.drafts, now.sheet, mapping, keys);
  }

  /** Makes the planned changes in parts, until they are made or someone stops it. */
  async run(
    edit: (drafts: Draft[]) => Promise<Written>,
    progress: (done: number, of: number) => void,
  ): Promise<ImportResult> {
    this.stopped = false;
    const { plan } = this.now!;
    const all = [...plan.add, ...plan.change];
    const result: ImportResult = { done: 0, stopped: false, refused: [], written: { made: [], back: [] } };
    for (let i = 0; i < all.length && !this.stopped; i += PART) {
      const claims = this.claims();
      const fitting: Draft[] = [];
      for (const draft of all.slice(i, i + PART)) {
        const reason = this.problem(draft, claims);
        if (reason) result.refused.push({ line: plan.lines.get(draft.record) ?? 0, reason });
        else fitting.push(draft);
      }
      result.written = joined([result.written, await edit(fitting)]);
      result.done += fitting.length;
      progress(Math.min(all.length, i + PART), all.length);
    }
    result.stopped = this.stopped;
    return result;
  }

  stop(): void {
    this.stopped = true;
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
    const plan = planMerge(table, present, draft, columns, by, newRecordId, this.titles());
    // Checks of the maker and values that must differ are looked at before anything happens.
    const refuse = (list: Draft[]): Draft[] =>
      list.filter((d) => {
        const reason = this.problem(d);
        if (reason) plan.refused.push({ line: plan.lines.get(d.record) ?? 0, reason });
        return !reason;
      });
    plan.add = refuse(plan.add);
    plan.change = refuse(plan.change);
    plan.refused.sort((a, b) => a.line - b.line);
    this.now = { drafts, sheet, mapping: columns, keys: by, plan };
    return {
      sheets: drafts.map((d) => d.name),
      sheet,
      columns: draft.columns.map((c) => ({
        name: c.name,
        sample: c.samples[0] ?? '',
        dayOrder: c.dayOrder,
        ambiguous: c.ambiguous,
        decimal: c.decimal,
      })),
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
