import { useDraggable, useDroppable } from '@dnd-kit/core';
import { clsx } from 'clsx';
import { useState, type CSSProperties, type PointerEvent } from 'react';
import { DragArea } from '../ui/drag.tsx';
import type { Table } from '../../core/tables/schema.ts';
import { FIELD_ICONS, type Column } from './fields.ts';

/** The names of the columns. A name opens its field; it is dragged to another place, and its edge makes it wider. */
export function GridHeader({
  table,
  columns,
  visible,
  gap,
  selectedField,
  onSelectField,
  onMove,
  onWiden,
}: {
  table: Table;
  columns: readonly Column[];
  visible: readonly number[];
  /** Pixels between the frozen columns and the first that is drawn after them. */
  gap: number;
  selectedField: string | null;
  onSelectField(id: string | null): void;
  /** Moves a field before another, or to the end. */
  onMove(field: string, before: string | null): void;
  onWiden(field: string, width: number): void;
}) {
  const [widening, setWidening] = useState<{ field: string; from: number; x: number; width: number } | null>(null);
  return (
    <div
      role="row"
      className="sticky top-0 z-20 flex border-b border-line bg-paper"
      onPointerMove={(e) => {
        if (widening) setWidening({ ...widening, width: clampWidth(widening.from + e.clientX - widening.x) });
      }}
      onPointerUp={(e) => {
        if (widening) onWiden(widening.field, clampWidth(widening.from + e.clientX - widening.x));
        setWidening(null);
      }}
    >
      <DragArea onDrop={({ id, over }) => over && over !== id && onMove(id, over)}>
        {() =>
          visible.map((at, i) => {
            const { field: f, width, frozen, left } = columns[at]!;
            const firstAfter = visible[i - 1] === undefined || columns[visible[i - 1]!]!.frozen;
            return (
              <HeaderCell
                key={f.id}
                column={columns[at]!}
                isKey={table.key?.includes(f.id) ?? false}
                selected={selectedField === f.id}
                style={{
                  width: widening?.field === f.id ? widening.width : width,
                  ...(frozen ? { left } : firstAfter ? { marginLeft: gap } : {}),
                }}
                onSelect={() => onSelectField(selectedField === f.id ? null : f.id)}
                onShift={(by) => {
                  const to = columns[at + (by > 0 ? 2 : -1)];
                  if (columns[at + by]) onMove(f.id, to?.field.id ?? null);
                }}
                onWiden={(e) => {
                  e.preventDefault();
                  e.currentTarget.parentElement!.parentElement!.setPointerCapture(e.pointerId);
                  setWidening({ field: f.id, from: width, x: e.clientX, width });
                }}
              />
            );
          })
        }
      </DragArea>
    </div>
  );
}

/** One name: pressed to open its field, dragged or moved with Alt and an arrow key to another place. */
function HeaderCell({
  column: { field: f, frozen },
  isKey,
  selected,
  style,
  onSelect,
  onShift,
  onWiden,
}: {
  column: Column;
  isKey: boolean;
  selected: boolean;
  style: CSSProperties;
  onSelect(): void;
  onShift(by: -1 | 1): void;
  onWiden(e: PointerEvent): void;
}) {
  const { setNodeRef: setHandle, listeners, isDragging } = useDraggable({ id: f.id });
  const { setNodeRef: setPlace, isOver } = useDroppable({ id: f.id });
  const Icon = FIELD_ICONS[f.type];
  const broken = f.type === 'formula' && !f.formula;
  return (
    <div
      ref={setPlace}
      role="columnheader"
      className={clsx(
        'relative shrink-0 border-r border-line bg-paper',
        frozen && 'sticky z-10',
        isOver && !isDragging && 'shadow-[inset_2px_0_0_var(--color-dusk)]',
      )}
      style={style}
    >
      <button
        ref={setHandle}
        type="button"
        data-field={f.id}
        title={`${f.name}: show and change this field; drag it to another place, or press Alt with an arrow key`}
        {...listeners}
        onClick={onSelect}
        onKeyDown={(e) => {
          if (!e.altKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return;
          e.preventDefault();
          e.stopPropagation();
          onShift(e.key === 'ArrowLeft' ? -1 : 1);
        }}
        className={clsx(
          'flex h-[34px] w-full items-center gap-1.5 px-2.5 text-left font-semibold',
          selected ? 'bg-dusk-wash text-dusk' : f.type === 'formula' && 'text-kelp',
          broken && 'text-persimmon-deep',
          isDragging && 'opacity-50',
        )}
      >
        <Icon size={14} className="shrink-0 opacity-70" aria-hidden />
        <span className="truncate">{f.name}</span>
        {isKey && <span className="text-xs font-normal text-ink-faint">key</span>}
      </button>
      <span
        aria-hidden
        title="Drag to make this column wider"
        className="absolute top-0 -right-[3px] z-10 h-full w-[6px] cursor-col-resize hover:bg-dusk/30"
        onPointerDown={onWiden}
      />
    </div>
  );
}

export const clampWidth = (w: number): number => Math.round(Math.min(900, Math.max(48, w)));
