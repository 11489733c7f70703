import { noConditions } from '../../core/document/queries.ts';
import { everyCondition } from '../../core/records/conditions.ts';
import { aOrAn } from '../../core/document/names.ts';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { toast } from 'sonner';
import { moveFieldBefore } from '../../core/app/edits.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { GridAsk } from '../../core/records/grid.ts';
import type { GridPage, GridRow } from '../engine/looking.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { blockOf, type Spot } from './blocks.ts';
import { columnsOf } from './fields.ts';
import { ContextMenu } from '../ui/ContextMenu.tsx';
import { useGridMenu } from './grid-menu.ts';
import { draftFor } from './draft-for.ts';
import { countWords, EmptyWords, steadied } from './grid-page.tsx';
import { GridFoot } from './GridFoot.tsx';
import { GridHeader } from './GridHeader.tsx';
import { MOVES, saidBy } from './grid-keys.ts';
import { GridLine, LINE_HEIGHT, type LineActions } from './GridLine.tsx';
import { useBlocks } from './useBlocks.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { DragArea } from '../ui/drag.tsx';
import { useView } from './useView.ts';
import { useColumnsInView } from './useColumnsInView.ts';

const PAGE = 60;
/** What stands behind the last column: buttons to open and remove a record. */
const BUTTONS = 56;

/** The records of a table: virtual both ways, edited in place by the type of their field. */
export function Grid({
  table,
  search,
  onStopFinding,
  selectedField,
  onSelectField,
  onOpen,
  reveal,
}: {
  table: Table;
  search: string;
  onStopFinding(): void;
  selectedField: string | null;
  onSelectField(id: string | null): void;
  onOpen(table: string, record: string): void;
  reveal: string | null;
}) {
  const engine = useEngine();
  const tableRevision = useRevisions((s) => s.tableRevision);
  const revision = useRevisions((s) => s.revision);
  const edit = useStudio((s) => s.edit);
  const editRecords = useStudio((s) => s.editRecords);
  const { view, look } = useView(table);
  const columns = useMemo(() => columnsOf(table, view), [table, view]);
  const [closed, setClosed] = useState<readonly string[]>([]);
  const ask = useMemo(
    (): GridAsk => ({ where: view.where, order: view.order, group: view.group, figures: view.figures, search, closed }),
    [view, search, closed],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<Spot>({ row: 0, column: 0 });
  /** Where a selection of several cells began; the active cell is its other corner. */
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const block = blockOf(anchor ?? at, at);
  const [editing, setEditing] = useState<{ text: string | null } | null>(null);
  const [total, setTotal] = useState(0);

  const lines = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_HEIGHT,
    overscan: 6,
    // The names above and the figures below lie over the lines.
    scrollPaddingStart: 36,
    scrollPaddingEnd: 36,
    // Drawing within the scroll event would make the browser lay out twice.
    useFlushSync: false,
  });
  const frozen = columns.filter((c) => c.frozen).length;
  const { visible, show } = useColumnsInView(scroller, columns);
  const frozenWidth = columns[frozen - 1] ? columns[frozen - 1]!.left + columns[frozen - 1]!.width : 0;
  const firstFree = visible.find((i) => i >= frozen);
  const gap = firstFree === undefined ? 0 : columns[firstFree]!.left - frozenWidth;
  const width = columns.reduce((w, c) => w + c.width, 0);

  const drawn = lines.getVirtualItems();
  const from = Math.max(0, Math.floor((drawn[0]?.index ?? 0) / PAGE) * PAGE - PAGE);
  const version = `${tableRevision[table.id] ?? 0}/${revision}`;
  const known = useRef<ReadonlyMap<string, GridRow>>(new Map());
  const { data: page } = useQuery<GridPage>({
    queryKey: ['grid', table.id, ask, from, version],
    queryFn: async () => {
      const next = steadied(await engine.looking.page(table.id, ask, from, PAGE * 3), known.current);
      known.current = new Map(next.rows.map((r) => [r.id, r]));
      return next;
    },
    // Rows are compared above, which is cheaper than comparing whole pages.
    structuralSharing: false,
    placeholderData: keepPreviousData,
  });
  const { data: figures = NO_FIGURES } = useQuery({
    queryKey: ['figures', table.id, ask, version],
    queryFn: () => engine.looking.figures(table.id, ask),
    placeholderData: keepPreviousData,
    enabled: Object.keys(view.figures).length > 0,
  });
  useEffect(() => {
    if (page) setTotal(page.total);
  }, [page]);
  const revealed = useRef<string | null>(null);
  useEffect(() => {
    if (!reveal || revealed.current === reveal) return;
    void engine.looking.lineOf(table.id, ask, reveal).then((line) => {
      if (line >= total) return; // its line comes with the next page
      revealed.current = reveal;
      if (line < 0) {
        toast(`The new ${table.one} is there, but it does not fit what is shown.`, {
          action: { label: 'Show all', onClick: showAll },
        });
        return;
      }
      lines.scrollToIndex(line);
      setAt({ row: line, column: 0 });
      scroller.current?.focus();
    });
  }, [reveal, total]);

  // Rows pasted below the last are shown once they are there.
  const [pastedTo, setPastedTo] = useState<number | null>(null);
  useEffect(() => {
    if (pastedTo === null || total <= pastedTo) return;
    lines.scrollToIndex(pastedTo);
    setPastedTo(null);
  }, [total, pastedTo]);

  const rowAt = useCallback(
    (i: number): GridRow | undefined => (page && i >= page.from ? page.rows[i - page.from] : undefined),
    [page],
  );
  const blocks = useBlocks(table, columns, ask, block, scroller, rowAt, (rows, wide, added) => {
    const last = block.top + rows - 1;
    if (added) setPastedTo(last);
    setAnchor({ row: block.top, column: block.left });
    setAt({ row: last, column: Math.min(columns.length - 1, block.left + wide - 1) });
  });

  const menu = useGridMenu({
    table,
    columns,
    block,
    rowAt,
    rowsOf: blocks.rowsOf,
    empty: blocks.empty,
    onOpen,
    onSelectField,
    onSpot: (spot) => {
      setAnchor(null);
      setAt(spot);
      setEditing(null);
    },
  });

  const showAll = (): void => {
    if (everyCondition(view.where).length) look('Showed all records', (v) => (v.where = noConditions()));
    setClosed([]);
    onStopFinding();
  };

  const keep = (line: number, field: Field, cell: Cell, linked?: Cell): void => {
    const row = rowAt(line);
    const draft = row && !row.group && draftFor(table, field, row.id, cell, linked);
    const title = row?.cells[table.fields.findIndex((f) => f.id === table.titleField)]?.shown;
    if (draft) void editRecords(`Changed ${field.name} of ${title || aOrAn(table.one)}`, [draft]);
  };
  const removeRow = (row: GridRow): void =>
    void editRecords(`Removed ${aOrAn(table.one)}`, [{ do: 'remove', table: table.id, record: row.id }]);
  const fold = (key: string): void =>
    setClosed(closed.includes(key) ? closed.filter((k) => k !== key) : [...closed, key]);

  const go = (row: number, column: number, extend = false): void => {
    setAnchor(extend ? (anchor ?? at) : null);
    const next = {
      row: Math.max(0, Math.min(total - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    };
    setAt(next);
    setEditing(null);
    lines.scrollToIndex(next.row);
    show(next.column);
    scroller.current?.focus({ preventScroll: true });
  };

  const inOwnOrder = Boolean(
    table.ownOrder &&
    !view.group &&
    view.order.length === 1 &&
    view.order[0]!.by === table.ownOrder &&
    !view.order[0]!.descending,
  );
  /** Moves a record before another in the table's own order. */
  const place = async (record: string, before: string | null): Promise<void> => {
    const moves = await engine.looking.orderMoves(table.id, record, before);
    const own = table.ownOrder!;
    await editRecords(
      `Moved ${aOrAn(table.one)} in the order`,
      Array.from(moves, ([id, n]) => ({ do: 'set', table: table.id, record: id, cells: { [own]: n } })),
    );
  };
  const placeBy = (by: -1 | 1): void => {
    const row = rowAt(at.row);
    const next = rowAt(at.row + (by < 0 ? -1 : 2));
    if (!row || (by < 0 ? !next : !rowAt(at.row + 1))) return;
    void place(row.id, next?.id ?? null).then(() => go(at.row + by, at.column));
  };

  const onKey = (e: KeyboardEvent): void => {
    if (editing || e.target !== scroller.current) return;
    const field = columns[at.column]?.field;
    const row = rowAt(at.row);
    const command = e.ctrlKey || e.metaKey;
    const does = (work: () => void): void => {
      e.preventDefault();
      work();
    };
    const m = MOVES[e.key];
    if (e.altKey && inOwnOrder && (e.key === 'ArrowUp' || e.key === 'ArrowDown'))
      return does(() => placeBy(e.key === 'ArrowUp' ? -1 : 1));
    if (m) return does(() => go(at.row + m[0], at.column + m[1], e.shiftKey));
    if (e.key === 'Tab' && !e.shiftKey && at.column < columns.length - 1) return does(() => go(at.row, at.column + 1));
    if (e.key === 'Tab' && e.shiftKey && at.column > 0) return does(() => go(at.row, at.column - 1));
    if (e.key === 'Home') return does(() => go(command ? 0 : at.row, 0, e.shiftKey));
    if (e.key === 'End') return does(() => go(command ? total - 1 : at.row, columns.length - 1, e.shiftKey));
    if (command && e.key.toLowerCase() === 'a')
      return does(() => {
        setAnchor({ row: 0, column: 0 });
        setAt({ row: total - 1, column: columns.length - 1 });
      });
    if (command && e.key.toLowerCase() === 'd' && block.bottom > block.top) return does(blocks.fill);
    if (e.key === 'Escape') return setAnchor(null);
    if (row?.group) {
      if (e.key === 'Enter' || e.key === ' ') does(() => fold(row.group!.key));
      return;
    }
    if (!field) return;
    if (e.key === 'Enter' && typedInto.current === at) does(() => go(at.row + 1, at.column));
    else if (e.key === 'Enter' || e.key === 'F2') does(() => begin(null));
    else if (e.key === 'Delete' || e.key === 'Backspace') does(blocks.empty);
    else if (e.key.length === 1 && !command && !e.altKey && e.key !== ' ') does(() => begin(e.key));
    else if (e.key === ' ' && e.shiftKey) does(() => row && onOpen(table.id, row.id));
    else if (e.key === ' ' && fieldKind(field.type).grid?.toggles)
      does(() => keep(at.row, field, row?.cells[columns[at.column]!.place]?.raw !== true));
  };
  const typedInto = useRef<typeof at | null>(null);
  const begin = (text: string | null): void => {
    const column = columns[at.column];
    const row = rowAt(at.row);
    if (!column || !row || row.group) return;
    const { field, place: slot } = column;
    if (field.type === 'formula') onSelectField(field.id);
    else if (fieldKind(field.type).keptByApp) return;
    else if (fieldKind(field.type).grid?.toggles) {
      // Whoever types yes means yes, however it was, and Enter behind it ends that as in any other cell.
      const said = text === null ? row.cells[slot]!.raw !== true : saidBy(text);
      if (text !== null) typedInto.current = at;
      if (said !== null && said !== row.cells[slot]!.raw) keep(at.row, field, said);
    } else setEditing({ text });
  };

  // Lines are given one set of actions for good; each finds the newest here.
  const newest = useRef<LineActions>(null!);
  useLayoutEffect(() => {
    newest.current = {
      go,
      begin: () => begin(null),
      keep,
      open: onOpen,
      remove: removeRow,
      fold,
      place: (record, before) => void place(record, before),
    };
  });
  const actions = useMemo(
    (): LineActions => ({
      go: (...a) => newest.current.go(...a),
      begin: () => newest.current.begin(),
      keep: (...a) => newest.current.keep(...a),
      open: (...a) => newest.current.open(...a),
      remove: (...a) => newest.current.remove(...a),
      fold: (...a) => newest.current.fold(...a),
      place: (...a) => newest.current.place(...a),
    }),
    [],
  );

  return (
    <div className="group/grid mx-6 mt-2 mb-4 flex min-h-[180px] min-w-0 flex-1 flex-col overflow-hidden rounded-card border border-line bg-raised">
      {page && page.problems.length > 0 && (
        <p className="border-b border-line bg-saffron-wash px-3 py-1.5 text-sm">{page.problems[0]}</p>
      )}
      <ContextMenu items={menu.items}>
        <div
          ref={scroller}
          onContextMenu={menu.pointAt}
          // A long press opens the menu without being asked for one by the browser.
          onPointerDown={(e) => e.pointerType !== 'mouse' && menu.pointAt(e)}
          role="grid"
          aria-label={table.name}
          aria-rowcount={total}
          aria-colcount={columns.length}
          tabIndex={0}
          onKeyDown={onKey}
          onCopy={(e) => !editing && blocks.onCopy(e)}
          onCut={(e) => !editing && blocks.onCopy(e, true)}
          onPaste={(e) => !editing && blocks.onPaste(e)}
          aria-activedescendant={`cell-${at.row}-${at.column}`}
          className="thin-scroll relative flex min-h-0 flex-1 flex-col overflow-auto outline-none select-none"
        >
          <div className="flex flex-1 flex-col" style={{ width: width + BUTTONS, minWidth: '100%' }}>
            <GridHeader
              table={table}
              columns={columns}
              visible={visible}
              gap={gap}
              selectedField={selectedField}
              onSelectField={onSelectField}
              onMove={(field, before) =>
                void edit(`Moved ${table.fields.find((f) => f.id === field)?.name}`, (a) =>
                  moveFieldBefore(a, table.id, field, before),
                )
              }
              onWiden={(field, w) =>
                look('Changed the width of a column', (v) => (v.widths[field] = w), `wide-${field}`)
              }
            />
            <DragArea onDrop={({ id, over }) => over && over !== id && actions.place(id, over)}>
              {() => (
                <div className="relative shrink-0" style={{ height: lines.getTotalSize() }}>
                  {drawn.map((v) => (
                    <GridLine
                      key={v.key}
                      index={v.index}
                      top={v.start}
                      row={rowAt(v.index)}
                      columns={columns}
                      visible={visible}
                      gap={gap}
                      active={at.row === v.index ? at.column : null}
                      chosenFrom={blocks.several && v.index >= block.top && v.index <= block.bottom ? block.left : null}
                      chosenTo={blocks.several && v.index >= block.top && v.index <= block.bottom ? block.right : null}
                      view={view}
                      table={table}
                      editing={at.row === v.index ? editing : null}
                      movable={inOwnOrder}
                      actions={actions}
                    />
                  ))}
                </div>
              )}
            </DragArea>
            {page && total === 0 && (
              <EmptyWords table={table} search={search} filtered={everyCondition(view.where).length > 0} />
            )}
            <div className="flex-1" />
            <GridFoot
              columns={columns}
              visible={visible}
              gap={gap}
              view={view}
              figures={figures}
              table={table}
              onChoose={(field, figure) =>
                look('Chose a figure', (v) => {
                  if (figure) v.figures[field] = figure;
                  else delete v.figures[field];
                })
              }
            />
          </div>
        </div>
      </ContextMenu>
      <div className="flex h-[26px] shrink-0 items-center gap-5 border-t border-line bg-paper px-3 text-xs text-ink-soft">
        <span>{countWords(page)}</span>
        {blocks.several && (
          <span className={clsx('tabular-nums')}>
            {((block.bottom - block.top + 1) * (block.right - block.left + 1)).toLocaleString('en-GB')} cells selected
          </span>
        )}
      </div>
    </div>
  );
}

const NO_FIGURES: Record<string, string> = {};
