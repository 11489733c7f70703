import '../../kinds/given/all.ts';
import { expose } from 'comlink';
import { MOST_TABLES } from '../../core/document/limits.ts';
import { makeApp } from '../../core/formats/make-app.ts';
import { draftTable, readRows, type ColumnDraft, type TableDraft, type TypedRows } from '../../core/formats/infer.ts';
import { findLinks, type LinkDraft } from '../../core/formats/find-links.ts';
import { readSheets, tooLarge } from '../../core/formats/read.ts';
import type { Sheet } from '../../core/formats/sheet.ts';
import { keepApp } from '../state/keep.ts';
import type { Review } from './review.ts';

interface Brought {
  file: string;
  /** As it was read. */
  sheet: Sheet;
  draft: TableDraft;
  data: TypedRows;
  skip: boolean;
}

/** Reads files and makes the app of them, off the page's thread. */
export class BringWorker {
  private sheets: Brought[] = [];
  private links: (LinkDraft & { accepted: boolean })[] = [];

  async add(file: string, bytes: Uint8Array | null, size: number): Promise<Review> {
    if (!bytes) throw tooLarge(file, size);
    for (const sheet of await readSheets(file, bytes)) {
      const draft = draftTable(sheet);
      // What is beyond the bound can be taken in place of others.
      const skip = this.sheets.filter((s) => !s.skip).length >= MOST_TABLES;
      if (skip) draft.notes.push(`An app holds up to ${MOST_TABLES} tables; this sheet is left out.`);
      this.sheets.push({ file, sheet, draft, data: readRows(draft), skip });
    }
    return this.relink();
  }

  rename(sheet: number, name: string): Review {
    this.sheets[sheet]!.draft.name = name;
    return this.review();
  }
  setHeader(sheet: number, row: number): Review {
    const s = this.sheets[sheet]!;
    s.draft = { ...draftTable(s.sheet, row), name: s.draft.name };
    s.data = readRows(s.draft);
    return this.relink();
  }
  setColumn(sheet: number, column: number, change: Partial<ColumnDraft>): Review {
    const s = this.sheets[sheet]!;
    Object.assign(s.draft.columns[column]!, change);
    s.data = readRows(s.draft);
    return this.relink();
  }
  /** Brings hidden rows or not, fills what lies under merged cells or not, keeps what does not fit or not. */
  setTaken(sheet: number, taken: Partial<Pick<TableDraft, 'bringHidden' | 'fillDown' | 'oddApart'>>): Review {
    const s = this.sheets[sheet]!;
    Object.assign(s.draft, taken);
    s.data = readRows(s.draft);
    return this.relink();
  }
  setSkip(sheet: number, skip: boolean): Review {
    this.sheets[sheet]!.skip = skip;
    return this.relink();
  }
  setLink(link: number, accepted: boolean): Review {
    this.links[link]!.accepted = accepted;
    return this.review();
  }

  private relink(): Review {
    const refused = new Set(this.links.filter((l) => !l.accepted).map(keyOf));
    const kept = this.sheets.map((s, i) => ({ ...s, i })).filter((s) => !s.skip);
    this.links = findLinks(
      kept.map((s) => s.draft),
      kept.map((s) => s.data),
    ).map((l) => {
      const link = {
        ...l,
        from: { ...l.from, table: kept[l.from.table]!.i },
        to: { ...l.to, table: kept[l.to.table]!.i },
      };
      return { ...link, accepted: !refused.has(keyOf(link)) };
    });
    return this.review();
  }

  private review(): Review {
    return {
      sheets: this.sheets.map(({ file, draft, data, skip }) => ({
        name: draft.name,
        file,
        headerRow: draft.headerRow,
        firstRows: draft.sheet.rows.slice(0, 6).map((r) => r.slice(0, 8)),
        columns: draft.columns,
        records: data.rows.length,
        rejected: data.rejected.slice(0, 50),
        rejectedCount: data.rejected.length,
        misfits: data.misfits.slice(0, 50),
        misfitCount: data.misfits.length,
        odd: (draft.sheet.odd ?? []).slice(0, 50),
        oddCount: draft.sheet.odd?.length ?? 0,
        nothing: data.nothing,
        hiddenRows: draft.sheet.hidden?.rows.length ?? 0,
        bringHidden: draft.bringHidden,
        under: draft.sheet.under?.length ?? 0,
        fillDown: draft.fillDown,
        oddApart: draft.oddApart,
        notes: draft.notes,
        sample: firstRows(draft).map((r) =>
          draft.columns.map((c) => (c.oddOf === undefined ? (r[c.column] ?? '') : '')),
        ),
        skip,
      })),
      links: this.links.map((l) => ({ ...l, samples: this.samples(l) })),
    };
  }

  private samples(l: LinkDraft): string[] {
    const { data } = this.sheets[l.to.table]!;
    return data.rows.slice(0, 3).map((r) => String(r[l.to.column] ?? ''));
  }

  /** Makes the app and keeps it with its records. */
  async make(name: string, progress: (kept: number, all: number) => void): Promise<string> {
    const kept = this.sheets.map((s, i) => ({ ...s, i })).filter((s) => !s.skip);
    const at = new Map(kept.map((s, i) => [s.i, i]));
    const links = this.links
      .filter((l) => l.accepted)
      .map((l) => ({
        ...l,
        from: { ...l.from, table: at.get(l.from.table)! },
        to: { ...l.to, table: at.get(l.to.table)! },
      }));
    const made = makeApp(
      name,
      kept.map((s) => s.draft),
      kept.map((s) => s.data),
      links,
    );
    return keepApp(made, {}, (n) => progress(n, made.records.length));
  }
}

/** The first rows of a table, of those that are brought. */
function firstRows({ sheet, headerRow, totals, bringHidden, fillDown }: TableDraft, count = 6): string[][] {
  const hidden = new Set(bringHidden ? [] : sheet.hidden?.rows);
  const rows: string[][] = [];
  for (let r = headerRow + 1; r < sheet.rows.length - totals && rows.length < count; r++)
    if (!hidden.has(r)) {
      const row = [...sheet.rows[r]!];
      if (fillDown) for (const u of sheet.under ?? []) if (u.row === r) row[u.column] ||= u.text;
      rows.push(row);
    }
  return rows;
}

const keyOf = (l: LinkDraft): string => `${l.from.table}/${l.from.column}/${l.to.table}/${l.to.column}`;

expose(new BringWorker());
