import { clsx } from 'clsx';
import { useState } from 'react';
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
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<number | null>(null);
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
      {visible.map((at, i) => {
        const { field: f, width, frozen, left } = columns[at]!;
        const Icon = FIELD_ICONS[f.type];
        const broken = f.type === 'formula' && !f.formula;
        const drawn = widening?.field === f.id ? widening.width : width;
        return (
          <div
            key={f.id}
            role="columnheader"
            className={clsx(
              'relative shrink-0 border-r border-line bg-paper',
              frozen && 'sticky z-10',
              over === at && dragged && 'shadow-[inset_2px_0_0_var(--color-dusk)]',
            )}
            style={{
              width: drawn,
              ...(frozen
                ? { left }
                : visible[i - 1] === undefined || columns[visible[i - 1]!]!.frozen
                  ? { marginLeft: gap }
                  : {}),
            }}
            onDragOver={(e) => {
              if (!dragged) return;
              e.preventDefault();
              setOver(at);
            }}
            onDrop={(e) => {
              e.preventDefault();
              const before = columns[at]?.field.id ?? null;
              if (dragged && dragged !== before) onMove(dragged, before);
            }}
          >
            <button
              type="button"
              draggable
              data-field={f.id}
              title={`${f.name}: show and change this field; drag it to another place`}
              onDragStart={(e) => {
                e.dataTransfer.effectAllowed = 'move';
                e.dataTransfer.setData('text/plain', f.name);
                setDragged(f.id);
              }}
              onDragEnd={() => {
                setDragged(null);
                setOver(null);
              }}
              onClick={() => onSelectField(selectedField === f.id ? null : f.id)}
              className={clsx(
                'flex h-[34px] w-full items-center gap-1.5 px-2.5 text-left font-semibold',
                selectedField === f.id ? 'bg-dusk-wash text-dusk' : f.type === 'formula' && 'text-kelp',
                broken && 'text-persimmon-deep',
                dragged === f.id && 'opacity-50',
              )}
            >
              <Icon size={14} className="shrink-0 opacity-70" aria-hidden />
              <span className="truncate">{f.name}</span>
              {table.key?.includes(f.id) && <span className="text-xs font-normal text-ink-faint">key</span>}
            </button>
            <span
              aria-hidden
              title="Drag to make this column wider"
              className="absolute top-0 -right-[3px] z-10 h-full w-[6px] cursor-col-resize hover:bg-dusk/30"
              onPointerDown={(e) => {
                e.preventDefault();
                e.currentTarget.parentElement!.parentElement!.setPointerCapture(e.pointerId);
                setWidening({ field: f.id, from: width, x: e.clientX, width });
              }}
            />
          </div>
        );
      })}
    </div>
  );
}

export const clampWidth = (w: number): number => Math.round(Math.min(900, Math.max(48, w)));
