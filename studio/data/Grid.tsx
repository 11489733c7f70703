import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  AtSign,
  Banknote,
  Calendar,
  CalendarClock,
  CircleDot,
  Clock,
  Percent,
  Globe,
  Hash,
  Image,
  Link2,
  PanelRight,
  Phone,
  Sigma,
  TextCursorInput,
  ToggleLeft,
  Trash2,
  Type,
  type LucideIcon,
} from 'lucide-react';
import { clsx } from 'clsx';
import { useCallback, useEffect, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { toast } from 'sonner';
import type { Field, FieldType, Table } from '../../core/app/schema.ts';
import type { Draft } from '../../core/host/change.ts';
import { newRecordId } from '../../core/host/device.ts';
import type { GridCell, GridPage } from '../engine/engine.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import {
  blockOf,
  blockText,
  cellsOf,
  clearDrafts,
  fillDrafts,
  inBlock,
  pasteDrafts,
  type Block,
  type Spot,
} from './blocks.ts';
import { CellEditor } from './CellEditor.tsx';

export const FIELD_ICONS: Record<FieldType, LucideIcon> = {
  text: Type,
  longtext: TextCursorInput,
  number: Hash,
  money: Banknote,
  percent: Percent,
  yesno: ToggleLeft,
  date: Calendar,
  time: Clock,
  datetime: CalendarClock,
  choice: CircleDot,
  mail: AtSign,
  phone: Phone,
  web: Globe,
  picture: Image,
  link: Link2,
  formula: Sigma,
};
const WIDTHS: Partial<Record<FieldType, number>> = {
  number: 100,
  money: 100,
  percent: 90,
  time: 84,
  yesno: 84,
  date: 138,
  datetime: 178,
  longtext: 260,
  mail: 210,
  web: 200,
  picture: 90,
};
const widthOf = (f: Field): number => WIDTHS[f.type] ?? 150;
const ROW = 31;
const PAGE = 60;

/** What the person sees and may change of a cell: a matched link is changed by the field it goes by. */
export function draftFor(
  table: Table,
  field: Field,
  record: string,
  cell: GridCell['raw'],
  linkedValue?: GridCell['raw'],
): Draft | null {
  if (field.type === 'formula') return null;
  if (field.link?.kind === 'matched')
    return { do: 'set', table: table.id, record, cells: { [field.link.from!]: linkedValue ?? null } };
  return { do: 'set', table: table.id, record, cells: { [field.id]: cell } };
}

/** The records of a table: virtual rows, edited in place by the type of their field. */
export function Grid({
  table,
  order,
  search,
  selectedField,
  onSelectField,
  onOpen,
  reveal,
}: {
  table: Table;
  order: { by: string; descending: boolean } | null;
  search: string;
  selectedField: string | null;
  onSelectField(id: string | null): void;
  onOpen(table: string, record: string): void;
  reveal: string | null;
}) {
  const engine = useEngine();
  const { tableRevision, revision, editRecords } = useStudio();
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<Spot>({ row: 0, column: 0 });
  /** Where a selection of several cells began; the active cell is its other corner. */
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const block = blockOf(anchor ?? at, at);
  const [editing, setEditing] = useState<{ text: string | null } | null>(null);
  const [total, setTotal] = useState(0);
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const visible = rows.getVirtualItems();
  const from = Math.max(0, Math.floor((visible[0]?.index ?? 0) / PAGE) * PAGE - PAGE);
  const version = `${tableRevision[table.id] ?? 0}/${revision}`;
  const { data: page } = useQuery<GridPage>({
    queryKey: ['grid', table.id, order, search, from, version],
    queryFn: () => engine.page(table.id, { from, count: PAGE * 3, order, search }),
    placeholderData: keepPreviousData,
  });
  useEffect(() => {
    if (page) setTotal(page.total);
  }, [page]);
  useEffect(() => {
    // A record that was just added is at the end.
    if (reveal && total > 0) {
      rows.scrollToIndex(total - 1);
      setAt({ row: total - 1, column: 0 });
      scroller.current?.focus();
    }
  }, [reveal, total]); // eslint-disable-line react-hooks/exhaustive-deps

  // Rows pasted below the last are shown once they are there.
  const pastedTo = useRef<number | null>(null);
  useEffect(() => {
    if (pastedTo.current === null || total <= pastedTo.current) return;
    rows.scrollToIndex(pastedTo.current);
    pastedTo.current = null;
  }, [total]); // eslint-disable-line react-hooks/exhaustive-deps

  const fields = table.fields;
  const rowAt = useCallback((i: number) => (page && i >= page.from ? page.rows[i - page.from] : undefined), [page]);

  const keep = (rowIndex: number, field: Field, cell: GridCell['raw'], linked?: GridCell['raw']): void => {
    const row = rowAt(rowIndex);
    const draft = row && draftFor(table, field, row.id, cell, linked);
    if (draft)
      void editRecords(
        `Changed ${field.name} of ${row.cells[fields.findIndex((f) => f.id === table.titleField)]?.shown || `a ${table.one}`}`,
        [draft],
      );
  };
  const removeRow = (i: number): void => {
    const row = rowAt(i);
    if (row) void editRecords(`Removed a ${table.one}`, [{ do: 'remove', table: table.id, record: row.id }]);
  };
  const go = (row: number, column: number, extend = false): void => {
    setAnchor(extend ? (anchor ?? at) : null);
    const next = {
      row: Math.max(0, Math.min(total - 1, row)),
      column: Math.max(0, Math.min(fields.length - 1, column)),
    };
    setAt(next);
    setEditing(null);
    rows.scrollToIndex(next.row);
    requestAnimationFrame(() =>
      document
        .getElementById(`cell-${next.row}-${next.column}`)
        ?.scrollIntoView({ block: 'nearest', inline: 'nearest' }),
    );
    scroller.current?.focus({ preventScroll: true });
  };

  /** The records of the block, fetched when they are out of view. */
  const blockRows = async (b: Block): Promise<GridPage['rows']> =>
    (await engine.page(table.id, { from: b.top, count: b.bottom - b.top + 1, order, search })).rows;
  const several = block.top !== block.bottom || block.left !== block.right;
  const cellsWord = (b: Block): string => {
    const n = (b.bottom - b.top + 1) * (b.right - b.left + 1);
    return n === 1 ? 'a cell' : `${n.toLocaleString('en-GB')} cells`;
  };

  const onCopy = (e: ClipboardEvent, cut = false): void => {
    if (editing || e.target !== scroller.current) return;
    e.preventDefault();
    const rows = Array.from({ length: block.bottom - block.top + 1 }, (_, i) => rowAt(block.top + i));
    if (rows.every((r) => r !== undefined))
      e.clipboardData.setData('text/plain', blockText(fields, rows as GridPage['rows'], block));
    else void blockRows(block).then((all) => navigator.clipboard.writeText(blockText(fields, all, block)));
    toast(`Copied ${cellsWord(block)}.`);
    if (cut)
      void blockRows(block).then((all) => editRecords(`Cut ${cellsWord(block)}`, clearDrafts(table, all, block)));
  };
  const onPaste = (e: ClipboardEvent): void => {
    if (editing || e.target !== scroller.current) return;
    e.preventDefault();
    const cells = cellsOf(e.clipboardData.getData('text/plain'));
    if (cells.length === 0) return;
    // One cell pasted into several goes into each of them.
    const spread = cells.length === 1 && cells[0]!.length === 1 && several;
    const rowsToPaste = spread
      ? Array.from({ length: block.bottom - block.top + 1 }, () =>
          Array<string>(block.right - block.left + 1).fill(cells[0]![0]!),
        )
      : cells;
    const count = rowsToPaste.length;
    void engine.page(table.id, { from: block.top, count, order, search }).then(async (there) => {
      const pasted = pasteDrafts(
        table,
        rowsToPaste,
        there.rows.map((r) => r.id),
        block.left,
        newRecordId,
      );
      if (pasted.drafts.length === 0) {
        toast('Nothing of this fits here: links and formula fields are not pasted into.');
        return;
      }
      if (pasted.added) pastedTo.current = block.top + count - 1;
      await editRecords(
        `Pasted ${count.toLocaleString('en-GB')} ${count === 1 ? 'row' : 'rows'} into ${table.name}`,
        pasted.drafts,
      );
      toast(
        `Pasted ${count.toLocaleString('en-GB')} ${count === 1 ? 'row' : 'rows'}${pasted.added ? `, ${pasted.added.toLocaleString('en-GB')} of them new` : ''}.${pasted.left ? ` ${pasted.left.toLocaleString('en-GB')} ${pasted.left === 1 ? 'cell does' : 'cells do'} not fit and ${pasted.left === 1 ? 'is' : 'are'} left out.` : ''}`,
      );
      setAnchor({ row: block.top, column: block.left });
      setAt({
        row: block.top + count - 1,
        column: Math.min(fields.length - 1, block.left + Math.max(...rowsToPaste.map((r) => r.length)) - 1),
      });
    });
  };

  const onKey = (e: KeyboardEvent): void => {
    if (editing || e.target !== scroller.current) return;
    const field = fields[at.column];
    const moves: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [15, 0],
      PageUp: [-15, 0],
    };
    const m = moves[e.key];
    if (m) {
      e.preventDefault();
      go(at.row + m[0], at.column + m[1], e.shiftKey);
      return;
    }
    if (e.key === 'Tab' && !e.shiftKey && at.column < fields.length - 1) {
      e.preventDefault();
      go(at.row, at.column + 1);
      return;
    }
    if (e.key === 'Tab' && e.shiftKey && at.column > 0) {
      e.preventDefault();
      go(at.row, at.column - 1);
      return;
    }
    if (e.key === 'Home') {
      e.preventDefault();
      go(e.ctrlKey ? 0 : at.row, 0, e.shiftKey);
      return;
    }
    if (e.key === 'End') {
      e.preventDefault();
      go(e.ctrlKey ? total - 1 : at.row, fields.length - 1, e.shiftKey);
      return;
    }
    const command = e.ctrlKey || e.metaKey;
    if (command && e.key.toLowerCase() === 'a') {
      e.preventDefault();
      setAnchor({ row: 0, column: 0 });
      setAt({ row: total - 1, column: fields.length - 1 });
      return;
    }
    if (command && e.key.toLowerCase() === 'd' && block.bottom > block.top) {
      e.preventDefault();
      void blockRows(block).then((all) =>
        editRecords(`Filled ${cellsWord(block)} down`, fillDrafts(table, all, block)),
      );
      return;
    }
    if (e.key === 'Escape') {
      setAnchor(null);
      return;
    }
    if (!field) return;
    if (e.key === 'Enter' || e.key === 'F2') {
      e.preventDefault();
      begin(null);
    } else if (e.key === 'Delete' || e.key === 'Backspace') {
      e.preventDefault();
      void blockRows(block).then((all) => editRecords(`Emptied ${cellsWord(block)}`, clearDrafts(table, all, block)));
    } else if (e.key.length === 1 && !e.ctrlKey && !e.metaKey && !e.altKey && e.key !== ' ') {
      e.preventDefault();
      begin(e.key);
    } else if (e.key === ' ' && e.shiftKey) {
      e.preventDefault();
      const row = rowAt(at.row);
      if (row) onOpen(table.id, row.id);
    } else if (e.key === ' ' && field.type === 'yesno') {
      e.preventDefault();
      keep(at.row, field, rowAt(at.row)?.cells[at.column]?.raw !== true);
    }
  };
  const begin = (text: string | null): void => {
    const field = fields[at.column];
    if (!field || !rowAt(at.row)) return;
    if (field.type === 'formula') onSelectField(field.id);
    else if (field.type === 'yesno') keep(at.row, field, rowAt(at.row)!.cells[at.column]!.raw !== true);
    else setEditing({ text });
  };

  const width = fields.reduce((w, f) => w + widthOf(f), 0) + 60;
  return (
    <div className="mx-6 mt-2 mb-4 flex min-h-[180px] min-w-0 flex-1 flex-col overflow-hidden rounded-card border border-line bg-raised">
      <div
        ref={scroller}
        role="grid"
        aria-label={table.name}
        aria-rowcount={total}
        tabIndex={0}
        onKeyDown={onKey}
        onCopy={onCopy}
        onCut={(e) => onCopy(e, true)}
        onPaste={onPaste}
        aria-activedescendant={`cell-${at.row}-${at.column}`}
        className="thin-scroll relative min-h-0 flex-1 overflow-auto outline-none select-none"
      >
        <div style={{ width, minWidth: '100%' }}>
          <div role="row" className="sticky top-0 z-20 flex border-b border-line bg-paper">
            {fields.map((f, i) => {
              const Icon = FIELD_ICONS[f.type];
              const broken = f.type === 'formula' && !f.formula;
              return (
                <button
                  key={f.id}
                  type="button"
                  role="columnheader"
                  data-field={f.id}
                  onClick={() => onSelectField(selectedField === f.id ? null : f.id)}
                  title={`${f.name}: show and change this field`}
                  className={clsx(
                    'flex h-[34px] shrink-0 items-center gap-1.5 border-r border-line px-2.5 text-left font-semibold',
                    i === 0 && 'sticky left-0 z-10 bg-paper',
                    selectedField === f.id ? '!bg-dusk-wash text-dusk' : f.type === 'formula' ? 'text-kelp' : '',
                    broken && 'text-persimmon-deep',
                  )}
                  style={{ width: widthOf(f) }}
                >
                  <Icon size={14} className="shrink-0 opacity-70" aria-hidden />{' '}
                  <span className="truncate">{f.name}</span>
                </button>
              );
            })}
          </div>
          <div className="relative" style={{ height: rows.getTotalSize() }}>
            {visible.map((v) => {
              const row = rowAt(v.index);
              return (
                <div
                  key={v.key}
                  role="row"
                  aria-rowindex={v.index + 1}
                  className="group absolute left-0 flex w-full border-b border-line/70"
                  style={{ height: ROW, transform: `translateY(${v.start}px)` }}
                >
                  {fields.map((f, c) => {
                    const here = at.row === v.index && at.column === c;
                    const cell = row?.cells[c];
                    return (
                      <div
                        key={f.id}
                        id={`cell-${v.index}-${c}`}
                        role="gridcell"
                        aria-selected={here}
                        data-record={row?.id}
                        data-field={f.id}
                        onMouseDown={(e) => go(v.index, c, e.shiftKey)}
                        onMouseEnter={(e) => {
                          if (e.buttons === 1 && !editing) go(v.index, c, true);
                        }}
                        onDoubleClick={() => begin(null)}
                        className={clsx(
                          'relative flex shrink-0 items-center border-r border-line/70 px-2.5',
                          c === 0 && 'sticky left-0 z-10 bg-raised font-semibold',
                          f.type === 'formula' && 'text-kelp',
                          (f.type === 'number' || f.type === 'money' || f.type === 'percent') && 'justify-end',
                          several && inBlock(block, v.index, c) && '!bg-dusk-wash',
                          here && 'shadow-[inset_0_0_0_2px_var(--color-dusk)]',
                        )}
                        style={{ width: widthOf(f) }}
                      >
                        {here && editing && row && cell ? (
                          <CellEditor
                            field={f}
                            cell={cell}
                            typed={editing.text}
                            onKeep={(value, linked) => {
                              keep(v.index, f, value, linked);
                            }}
                            onDone={(dr, dc) => go(at.row + dr, at.column + dc)}
                          />
                        ) : (
                          <CellView field={f} cell={cell} onOpen={onOpen} />
                        )}
                      </div>
                    );
                  })}
                  {row && (
                    <div role="gridcell" className="flex">
                      <button
                        type="button"
                        tabIndex={-1}
                        aria-label="Open this record"
                        onClick={() => onOpen(table.id, row.id)}
                        className="grid h-full w-[26px] place-items-center text-ink-faint opacity-0 group-hover:opacity-100 hover:text-dusk"
                      >
                        <PanelRight size={14} aria-hidden />
                      </button>
                      <button
                        type="button"
                        tabIndex={-1}
                        aria-label="Remove this record"
                        onClick={() => removeRow(v.index)}
                        className="grid h-full w-[26px] place-items-center text-ink-faint opacity-0 group-hover:opacity-100 hover:text-persimmon-deep"
                      >
                        <Trash2 size={14} aria-hidden />
                      </button>
                    </div>
                  )}
                </div>
              );
            })}
          </div>
          {page && total === 0 && (
            <p className="px-4 py-6 text-ink-soft">
              {search
                ? `Nothing in ${table.name} holds “${search}”.`
                : `No records yet. Press Record to write down the first ${table.one}.`}
            </p>
          )}
        </div>
      </div>
      <Totals table={table} page={page} at={at} search={search} />
    </div>
  );
}

const PALETTE = ['#DCEBE4', '#E3E7F4', '#FAEDCD', '#FAE4D9', '#EBE4D5', '#E6E2F0', '#DDE9EE', '#F0E4E4'];

function CellView({
  field,
  cell,
  onOpen,
}: {
  field: Field;
  cell: GridCell | undefined;
  onOpen(table: string, record: string): void;
}) {
  if (!cell) return <span className="h-2.5 w-2/3 rounded bg-sunk/70" aria-hidden />;
  if (field.type === 'yesno')
    return cell.raw === null ? null : <span className={cell.raw ? 'text-kelp' : 'text-ink-faint'}>{cell.shown}</span>;
  if (field.link)
    return cell.links?.[0] ? (
      <button
        type="button"
        tabIndex={-1}
        title={`Open ${cell.links[0].title}`}
        onDoubleClick={(e) => e.stopPropagation()}
        onClick={() => onOpen(field.link!.table, cell.links![0]!.id)}
        className="truncate rounded-md bg-dusk-wash px-1.5 text-dusk hover:underline"
      >
        {cell.links[0].title}
      </button>
    ) : (
      <span className="text-ink-faint">none</span>
    );
  if (field.type === 'choice' && cell.shown) {
    const choice = field.choices?.find((c) => c.name === cell.shown);
    return (
      <span className="truncate rounded-md px-1.5" style={{ background: PALETTE[choice?.colour ?? 4] }}>
        {cell.shown}
      </span>
    );
  }
  if (field.type === 'picture' && cell.shown)
    return (
      <span className="truncate text-ink-soft">
        {cell.shown.startsWith('data:') ? 'photo' : cell.shown.replace(/^.*\//, '')}
      </span>
    );
  if (cell.raw !== null && !cell.shown && field.type !== 'formula')
    return (
      <span className="truncate text-persimmon-deep" title={`This is not a ${field.type}`}>
        {String(cell.raw)}
      </span>
    );
  return <span className="truncate">{cell.shown}</span>;
}

function Totals({
  table,
  page,
  at,
  search,
}: {
  table: Table;
  page: GridPage | undefined;
  at: { row: number; column: number };
  search: string;
}) {
  const field = table.fields[at.column];
  const numbers =
    field && page
      ? page.rows.flatMap((r) =>
          typeof r.cells[at.column]?.raw === 'number' && field.type !== 'percent'
            ? [r.cells[at.column]!.raw as number]
            : [],
        )
      : [];
  const part = page && page.rows.length < page.total;
  const show = (n: number): string =>
    n.toLocaleString('en-GB', { maximumFractionDigits: 1 }) +
    (field?.unit && field.type === 'number' ? ` ${field.unit}` : '');
  return (
    <div className="flex h-[30px] shrink-0 items-center gap-5 border-t border-line bg-paper px-3 text-sm text-ink-soft">
      <span>
        {page
          ? search
            ? `${page.total.toLocaleString('en-GB')} of ${page.all.toLocaleString('en-GB')} records`
            : `${page.total.toLocaleString('en-GB')} records`
          : 'Reading'}
      </span>
      {numbers.length > 1 && !part && (
        <span>
          {field!.name}: average {show(numbers.reduce((a, b) => a + b, 0) / numbers.length)}, lowest{' '}
          {show(Math.min(...numbers))}, highest {show(Math.max(...numbers))}
        </span>
      )}
    </div>
  );
}
