import '../fields/typed-texts.ts';
import { fieldKind } from '../fields/kinds.ts';
import { UnreadableError } from '../document/unreadable.ts';
import type { Field, Table } from '../tables/schema.ts';
import { draftTable, type TableDraft } from '../formats/infer.ts';
import { likelyKeys, matchColumns } from '../formats/reimport.ts';
import type { Draft } from '../records/change.ts';
import { isWritable, readCell, typedCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import { listCell, type Cell } from '../fields/lists.ts';
import { display } from '../records/format.ts';
import type { Records } from '../records/store.ts';
import { linkedCell, Titles } from '../records/titles.ts';
import { withoutApostrophe } from '../fields/harmless.ts';
import { fileValue, styleOf } from './column-style.ts';
import { merge, type BaseRow, type FileRow, type MergeResult } from './merge.ts';
import type { MirrorSpec } from './state.ts';
import type { FileEdit, TableFile } from '../formats/table-file.ts';

/** What one look at a file and its table comes to. */
export interface Step {
  drafts: Draft[];
  edits: FileEdit[];
  conflicts: (MergeResult['conflicts'][number] & { field: Field | null })[];
  misfits: string[];
  written: BaseRow[];
  unwritten: BaseRow[];
  /** Records that would be removed because their rows are gone. */
  removed: number;
  sheet: number;
}

export interface StepInput {
  records: Records;
  table: Table;
  spec: MirrorSpec;
  file: TableFile;
  base: BaseRow[] | null;
  first: 'file' | 'app';
  /** Milliseconds. */
  fileTime: number;
  appTime(record: string, field: string): number;
  newId(): string;
}

/** The columns of a sheet that go with the fields of a table, by name. */
export function mirrorColumns(table: Table, draft: TableDraft): MirrorSpec['columns'] {
  return matchColumns(table, draft).flatMap((field, i) => (field ? [{ name: draft.columns[i]!.name, field }] : []));
}

/** Compares a file with its table and says what either must take from the other. Throws {@link UnreadableError}. */
export function mirrorStep(input: StepInput): Step {
  const { records, table, spec, file } = input;
  const at = file.sheets.findIndex((s) => s.name === spec.sheet);
  const sheet = at >= 0 ? at : file.sheets.length === 1 ? 0 : -1;
  if (sheet < 0) throw new UnreadableError(`“${spec.file}” has no sheet “${spec.sheet}” any more.`);
  const draft = draftTable(file.sheets[sheet]!, undefined, { asItIs: true });
  const columns = spec.columns.map((c) => {
    const field = table.fields.find((f) => f.id === c.field);
    const column = draft.columns.find((d) => d.name === c.name);
    if (!column) throw new UnreadableError(`The column “${c.name}” is not in “${spec.file}” any more.`);
    return { field, column, style: styleOf(samples(file, sheet, draft, column.column), column) };
  });
  // A field that was removed from the table leaves its column to the file.
  const live = columns.filter((c): c is typeof c & { field: Field } => c.field !== undefined && isWritable(c.field));
  const titles = new Titles(records);
  const body = draft.sheet.rows.slice(draft.headerRow + 1);
  const lines = draft.sheet.lines.slice(draft.headerRow + 1);
  const rows = body.map((texts, i): FileRow => {
    const own = live.map((c) => texts[c.column.column] ?? '');
    return {
      texts: own,
      cells: live.map((c, p) => readCellText(c.field, own[p]!, c.column, titles)),
      locked: live.map((c) => file.isLocked(sheet, lines[i]!, c.column.column)),
    };
  });
  const place = new Map(live.map((c, i) => [c.field.id, i]));
  const keys = (
    table.key?.length && table.key.every((k) => place.has(k)) ? table.key : likelyKeys(table, [...place.keys()])
  )
    .map((k) => place.get(k)!)
    .filter((k) => k !== undefined);
  const write = (cell: Cell, p: number) => fileValue(live[p]!.field, cell, live[p]!.style, titles.title);
  const result = merge({
    width: live.length,
    keys,
    base: input.base,
    file: rows,
    app: records.rows(table.id).map((r) => ({ id: r.id, cells: live.map((c) => r.cells[c.field.id] ?? null) })),
    first: input.first,
    fileTime: input.fileTime,
    appTime: (record, p) => input.appTime(record, live[p]!.field.id),
    newId: input.newId,
    textOf: (cell, p) => write(cell, p).text,
  });
  const drafts = result.changes.map((c): Draft => {
    if (c.do === 'remove') return { do: 'remove', table: table.id, record: c.record };
    const cells = Object.fromEntries([...c.cells].map(([p, cell]) => [live[p]!.field.id, cell]));
    return { do: c.do, table: table.id, record: c.record, cells };
  });
  const edits = result.edits.flatMap((e): FileEdit[] => {
    if (e.do === 'append')
      return [
        {
          do: 'append',
          cells: new Map(e.cells.map((cell, p) => [live[p]!.column.column, write(cell, p)])),
        },
      ];
    const line = lines[e.row]!;
    if (e.do === 'cell')
      return [{ do: 'cell', line, column: live[e.place]!.column.column, value: write(e.cell, e.place) }];
    // A row that holds something in columns that are not ours keeps it; only our cells are emptied.
    const others = body[e.row]!.some((t, c) => t.trim() !== '' && !live.some((x) => x.column.column === c));
    if (!others) return [{ do: 'remove', line }];
    return live.map((c) => ({ do: 'cell', line, column: c.column.column, value: { text: '' } }));
  });
  return {
    drafts,
    edits,
    conflicts: result.conflicts.map((c) => ({ ...c, field: c.place === null ? null : live[c.place]!.field })),
    misfits: result.misfits
      .slice(0, 50)
      .map(
        (m) =>
          `Line ${lines[m.row]}: “${rows[m.row]!.texts[m.place]!.slice(0, 40)}” does not fit ${live[m.place]!.field.name}.`,
      ),
    written: result.written,
    unwritten: result.unwritten,
    removed: result.changes.filter((c) => c.do === 'remove').length,
    sheet,
  };
}

function samples(file: TableFile, sheet: number, draft: TableDraft, column: number): string[] {
  return file.sheets[sheet]!.rows.slice(draft.headerRow + 1, draft.headerRow + 500).map((r) => r[column] ?? '');
}

/** The cell a text of the file stands for; undefined when it does not fit. A linked record is found by its title. */
function readCellText(
  field: Field,
  text: string,
  column: TableDraft['columns'][number],
  titles: Titles,
): Cell | undefined {
  const plain = withoutApostrophe(text);
  if (plain.trim() === '') return null;
  if (field.link) return linkedCell(field, plain, titles);
  const cell = typedCell(field, fieldKind(field.type).lines ? plain : plain.trim(), column.dayOrder, column.decimal);
  return cell === undefined || checkCell(field, cell) ? undefined : cell;
}

/** A cell as it is shown beside a conflict. */
export function shownCell(records: Records, field: Field, cell: Cell): string {
  if (field.link)
    return listCell(cell)
      .map((id) => records.row(field.link!.table, id)?.title() ?? id)
      .join(', ');
  return cell === null ? '' : display(readCell(field, cell), field);
}
