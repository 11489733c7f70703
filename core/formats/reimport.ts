import '../fields/typed-texts.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { Draft } from '../records/change.ts';
import { isWritable, typedCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import type { Cell } from '../fields/lists.ts';
import type { StoredRecord } from '../records/store.ts';
import { linkKey } from '../records/table-rows.ts';
import { linkedCell, type Titles } from '../records/titles.ts';
import type { TableDraft, Unread } from './infer.ts';

/** For each column of a sheet the field it goes into, or null when it is left out. */
export type Mapping = (string | null)[];

/** What bringing a sheet into a table would do. */
export interface MergePlan {
  add: Draft[];
  change: Draft[];
  /** Rows that say what is there already. */
  same: number;
  refused: Unread[];
  /** The line of the file that each change comes from, by record. */
  lines: Map<string, number>;
}

const plain = (s: string): string => s.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');

/** Fields that a sheet can write. */
export const writableFields = (table: Table): Field[] => table.fields.filter(isWritable);

/** Columns and fields that are called alike. */
export function matchColumns(table: Table, draft: TableDraft): Mapping {
  const free = new Map(writableFields(table).map((f) => [plain(f.name), f.id]));
  return draft.columns.map((c) => {
    // A field may itself be called “Weight (kg)”.
    const name = [c.header, c.name].map((n) => plain(n ?? '')).find((n) => free.has(n)) ?? '';
    const id = free.get(name) ?? null;
    free.delete(name);
    return id;
  });
}

/** The fields that name a record best among those that the sheet brings: one whose values differ, or the title. */
export function likelyKeys(table: Table, mapping: Mapping): string[] {
  const brought = new Set(mapping);
  if (table.key?.length && table.key.every((k) => brought.has(k))) return [...table.key];
  const key =
    table.fields.find((f) => f.unique && brought.has(f.id)) ??
    table.fields.find((f) => /code|\bno\b|number|\bid\b|tag|mail/i.test(f.name) && brought.has(f.id)) ??
    table.fields.find((f) => f.id === table.titleField && brought.has(f.id));
  return key ? [key.id] : [];
}

const keyOf = (cells: Record<string, Cell>, keys: readonly string[]): string | null => {
  const parts = keys.map((k) => linkKey(cells[k]));
  return parts.every((p) => p !== null) ? parts.join('\u0000') : null;
};

/**
 * Plans bringing rows into a table. Records are found by the values of the key fields; without keys every row is new.
 * An empty cell leaves what is there. A row with a cell that does not fit is refused whole.
 */
export function planMerge(
  table: Table,
  present: readonly StoredRecord[],
  draft: TableDraft,
  mapping: Mapping,
  keys: readonly string[],
  newId: () => string,
  titles: Pick<Titles, 'find'> = { find: () => undefined },
): MergePlan {
  const plan: MergePlan = { add: [], change: [], same: 0, refused: [], lines: new Map() };
  const byKey = new Map<string, StoredRecord>();
  if (keys.length) {
    for (const r of present) {
      const key = keyOf(r.cells, keys);
      if (key !== null && !byKey.has(key)) byKey.set(key, r);
    }
  }
  const fields = new Map(table.fields.map((f) => [f.id, f]));
  const seen = new Map<string, number>();
  const hidden = new Set(draft.bringHidden ? [] : draft.sheet.hidden?.rows);
  for (let r = draft.headerRow + 1; r < draft.sheet.rows.length - draft.totals; r++) {
    if (hidden.has(r)) continue;
    const line = draft.sheet.lines[r]!;
    const read = readRow(draft, draft.sheet.rows[r]!, mapping, fields, titles);
    if ('reason' in read) {
      plan.refused.push({ line, reason: read.reason });
      continue;
    }
    const { cells } = read;
    if (Object.keys(cells).length === 0) continue;
    const key = keys.length ? keyOf(cells, keys) : null;
    if (keys.length && key === null) {
      plan.refused.push({
        line,
        reason: `${keys.map((k) => fields.get(k)?.name ?? '').join(' and ')} is empty, so the record it belongs to is not known.`,
      });
      continue;
    }
    if (key !== null && seen.has(key)) {
      plan.refused.push({ line, reason: `It is about the same record as line ${seen.get(key)}.` });
      continue;
    }
    if (key !== null) seen.set(key, line);
    const there = key === null ? undefined : byKey.get(key);
    if (!there) {
      const record = newId();
      plan.lines.set(record, line);
      plan.add.push({ do: 'set', table: table.id, record, cells });
    } else {
      const differ = Object.fromEntries(
        Object.entries(cells).filter(([f, c]) => (there.cells[f] ?? null) !== c && !keys.includes(f)),
      );
      if (Object.keys(differ).length) {
        plan.lines.set(there.id, line);
        plan.change.push({ do: 'set', table: table.id, record: there.id, cells: differ });
      } else plan.same++;
    }
  }
  return plan;
}

function readRow(
  draft: TableDraft,
  row: readonly string[],
  mapping: Mapping,
  fields: ReadonlyMap<string, Field>,
  titles: Pick<Titles, 'find'>,
): { cells: Record<string, Cell> } | { reason: string } {
  const cells: Record<string, Cell> = {};
  for (let i = 0; i < draft.columns.length; i++) {
    const column = draft.columns[i]!;
    const field = fields.get(mapping[i] ?? '');
    const text = (row[column.column] ?? '').trim();
    if (!field || text === '') continue;
    const cell = field.link ? linkedCell(field, text, titles) : typedCell(field, text, column.dayOrder, column.decimal);
    const wrong =
      cell === undefined
        ? field.link
          ? `${field.name}: there is no record called “${text.slice(0, 40)}”.`
          : `“${text.slice(0, 40)}” does not fit ${field.name}.`
        : checkCell(field, cell);
    if (wrong) return { reason: wrong };
    cells[field.id] = cell!;
  }
  return { cells };
}
