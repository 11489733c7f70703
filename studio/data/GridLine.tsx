import { useDraggable, useDroppable } from '@dnd-kit/core';
import { clsx } from 'clsx';
import { ChevronDown, ChevronRight, GripVertical, PanelRight, Trash2 } from 'lucide-react';
import { memo, useState, type MouseEvent } from 'react';
import type { Field, Table, View } from '../../core/tables/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { GridRow } from '../engine/looking.ts';
import { CellEditor } from './CellEditor.tsx';
import { CellView } from './CellView.tsx';
import { isFigures, type Column } from './fields.ts';
import { FIGURE_WORDS } from './GridFoot.tsx';

export const LINE_HEIGHT = 31;

/** What can be done in a line. These stay the same from draw to draw, so that a line is drawn again only when it changes. */
export interface LineActions {
  go(row: number, column: number, extend?: boolean): void;
  begin(): void;
  keep(line: number, field: Field, cell: Cell, linked?: Cell): void;
  open(table: string, record: string): void;
  remove(row: GridRow): void;
  fold(key: string): void;
  place(record: string, before: string | null): void;
}

interface Props {
  index: number;
  top: number;
  row: GridRow | undefined;
  columns: readonly Column[];
  visible: readonly number[];
  gap: number;
  /** The active column, when this line is the active one. */
  active: number | null;
  /** The chosen columns, when several cells are chosen and this line has some of them. */
  chosenFrom: number | null;
  chosenTo: number | null;
  view: View;
  table: Table;
  editing: { text: string | null } | null;
  /** Can be dragged to another place in the table's own order. */
  movable: boolean;
  actions: LineActions;
}

/** One line of the grid: a record, or the name of a group with its figures. */
export const GridLine = memo(function GridLine(props: Props) {
  const { index, top, row, columns, visible, gap, movable, actions } = props;
  // The buttons of a line are drawn while the mouse is over it: scrolling then has half as much to draw.
  const [over, setOver] = useState(false);
  if (row?.group) return <GroupLine {...props} group={row.group} />;
  return (
    <div
      role="row"
      aria-rowindex={index + 1}
      className={clsx('absolute left-0 flex w-full border-b border-line/70', props.editing && 'z-10')}
      style={{ height: LINE_HEIGHT, transform: `translateY(${top}px)` }}
      onMouseEnter={() => setOver(true)}
      onMouseLeave={() => setOver(false)}
    >
      {movable && row && <RowPlace record={row.id} />}
      {visible.map((c, i) => {
        const column = columns[c]!;
        const first = visible[i - 1] === undefined || columns[visible[i - 1]!]!.frozen;
        return (
          <GridCellView
            key={column.field.id}
            {...props}
            c={c}
            column={column}
            margin={first && !column.frozen ? gap : 0}
          />
        );
      })}
      {row && over && (
        <div role="gridcell" className="sticky right-0 ml-auto flex bg-raised shadow-[-6px_0_6px_var(--color-raised)]">
          <button
            type="button"
            tabIndex={-1}
            aria-label="Open this record"
            onClick={() => actions.open(props.table.id, row.id)}
            className="grid h-full w-[26px] place-items-center text-ink-faint hover:text-dusk"
          >
            <PanelRight size={14} aria-hidden />
          </button>
          <button
            type="button"
            tabIndex={-1}
            aria-label="Remove this record"
            onClick={() => actions.remove(row)}
            className="grid h-full w-[26px] place-items-center text-ink-faint hover:text-persimmon-deep"
          >
            <Trash2 size={14} aria-hidden />
          </button>
        </div>
      )}
    </div>
  );
});

/** Lies over a line: a record that is dragged is put before the one whose line it is over. */
function RowPlace({ record }: { record: string }) {
  const { setNodeRef, isOver } = useDroppable({ id: record });
  return (
    <span
      ref={setNodeRef}
      aria-hidden
      className={clsx(
        'pointer-events-none absolute inset-0 z-20',
        isOver && 'shadow-[inset_0_2px_0_var(--color-dusk)]',
      )}
    />
  );
}

/** Takes a record by its line. */
function RowGrip({ record }: { record: string }) {
  const { setNodeRef, listeners } = useDraggable({ id: record });
  return (
    <span
      ref={setNodeRef}
      aria-hidden
      title="Drag to another place; Alt with an arrow key does the same"
      {...listeners}
      onMouseDown={(e) => {
        e.stopPropagation();
        (listeners?.['onMouseDown'] as ((e: MouseEvent) => void) | undefined)?.(e);
      }}
      className="mr-1 -ml-1.5 cursor-grab touch-none text-ink-faint"
    >
      <GripVertical size={13} />
    </span>
  );
}

function GridCellView(props: Props & { c: number; column: Column; margin: number }) {
  const { index, row, active, chosenFrom, chosenTo, editing, movable, column, c, margin, actions } = props;
  const { field: f, width, frozen, left } = column;
  const here = active === c;
  const chosen = chosenFrom !== null && chosenTo !== null && c >= chosenFrom && c <= chosenTo;
  const cell = row?.cells[column.place];
  return (
    <div
      id={`cell-${index}-${c}`}
      role="gridcell"
      aria-selected={here}
      aria-colindex={c + 1}
      data-record={row?.id}
      data-field={f.id}
      onMouseDown={(e) => e.button === 0 && actions.go(index, c, e.shiftKey)}
      onMouseEnter={(e) => {
        if (e.buttons === 1 && !editing) actions.go(index, c, true);
      }}
      onDoubleClick={actions.begin}
      className={clsx(
        'relative flex shrink-0 items-center border-r border-line/70 px-2.5',
        frozen && 'sticky z-10 bg-raised',
        c === 0 && 'font-semibold',
        f.type === 'formula' && 'text-kelp',
        isFigures(f.type) && 'justify-end tabular-nums',
        chosen && '!bg-dusk-wash',
        here && 'shadow-[inset_0_0_0_2px_var(--color-dusk)]',
        here && editing && '!z-30',
      )}
      style={{ width, ...(frozen && { left }), ...(margin && { marginLeft: margin }) }}
    >
      {movable && c === 0 && row && !editing && <RowGrip record={row.id} />}
      {here && editing && row && cell ? (
        <CellEditor
          field={f}
          cell={cell}
          typed={editing.text}
          onKeep={(value, linked) => actions.keep(index, f, value, linked)}
          onDone={(dr, dc) => actions.go(index + dr, c + dc)}
        />
      ) : (
        <CellView field={f} cell={cell} onOpen={actions.open} />
      )}
    </div>
  );
}

function GroupLine({
  index,
  top,
  group,
  view,
  columns,
  active,
  actions,
}: Props & { group: NonNullable<GridRow['group']> }) {
  const Chevron = group.closed ? ChevronRight : ChevronDown;
  const figures = Object.entries(group.figures).flatMap(([id, shown]) => {
    const column = columns.find((c) => c.field.id === id);
    return column && shown ? [{ id, name: column.field.name, figure: view.figures[id]!, shown }] : [];
  });
  return (
    <div
      role="row"
      aria-rowindex={index + 1}
      id={`cell-${index}-${active ?? 0}`}
      onMouseDown={() => actions.go(index, active ?? 0)}
      className={clsx(
        'absolute left-0 flex w-full items-center border-b border-line bg-paper',
        active !== null && 'shadow-[inset_0_0_0_2px_var(--color-dusk)]',
      )}
      style={{ height: LINE_HEIGHT, transform: `translateY(${top}px)` }}
    >
      <div role="gridcell" className="sticky left-0 flex items-center gap-2 px-2">
        <button
          type="button"
          tabIndex={-1}
          aria-expanded={!group.closed}
          aria-label={`${group.closed ? 'Unfold' : 'Fold'} ${group.shown || 'nothing'}`}
          onClick={() => actions.fold(group.key)}
          className="grid size-5 place-items-center rounded hover:bg-sunk"
        >
          <Chevron size={14} aria-hidden />
        </button>
        <b className="font-semibold">{group.shown || <span className="text-ink-faint">nothing</span>}</b>
        <span className="text-sm text-ink-faint tabular-nums">{group.count.toLocaleString('en-GB')}</span>
        {figures.map((f) => (
          <span key={f.id} className="ml-3 text-sm text-ink-soft">
            {f.name} {FIGURE_WORDS[f.figure]} <span className="font-semibold text-ink tabular-nums">{f.shown}</span>
          </span>
        ))}
      </div>
    </div>
  );
}
