import {
  ArrowDownAZ,
  ArrowUpAZ,
  Copy,
  CopyPlus,
  Eraser,
  EyeOff,
  Filter,
  ListTree,
  PanelRight,
  Settings2,
  Trash2,
} from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import { aOrAn } from '../../core/document/names.ts';
import { newRecordId } from '../../core/host/device.ts';
import { isWritable } from '../../core/records/cells.ts';
import type { Draft } from '../../core/records/change.ts';
import type { Field, Table, View } from '../../core/tables/schema.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { useStudio } from '../state/studio.ts';
import type { GridCell, GridRow } from '../engine/looking.ts';
import type { MenuItem } from '../ui/menu-item.tsx';
import { blockText, inBlock, type Block, type Spot } from './blocks.ts';
import type { Column } from './fields.ts';
import { useView } from './useView.ts';

/** A cell's value as a condition compares it; null where it cannot be written as one. */
function literalOf(field: Field, { raw }: GridCell): string | null {
  if (raw === null || field.link || field.several) return null;
  if (typeof raw !== 'string') return String(raw);
  if (field.type === 'formula') return JSON.stringify(raw);
  return (
    fieldKind(field.type).literal?.(raw) ??
    (fieldKind(field.type).valueType(field).k === 'text' ? JSON.stringify(raw) : null)
  );
}

/** A record as another one begins: with what it holds, and without what is its own alone. */
export function duplicateDraft(table: Table, row: Pick<GridRow, 'cells'>): Draft {
  const cells: Record<string, GridCell['raw']> = {};
  table.fields.forEach((f, i) => {
    const raw = row.cells[i]?.raw ?? null;
    if (raw !== null && isWritable(f) && !fieldKind(f.type).keptByApp && f.id !== table.ownOrder) cells[f.id] = raw;
  });
  return { do: 'set', table: table.id, record: newRecordId(), cells };
}

/** What the grid offers by the right button: for the cells that are selected, or for a column by its name. */
export function useGridMenu({
  table,
  columns,
  block,
  rowAt,
  rowsOf,
  empty,
  onOpen,
  onSelectField,
  onSpot,
}: {
  table: Table;
  columns: readonly Column[];
  block: Block;
  rowAt(line: number): GridRow | undefined;
  /** The records of a block, fetched where they are out of view. */
  rowsOf(b: Block): Promise<GridRow[]>;
  empty(): void;
  onOpen(table: string, record: string): void;
  onSelectField(id: string): void;
  /** Makes a cell the active one. */
  onSpot(spot: Spot): void;
}): { pointAt(e: { target: EventTarget }): void; items(): (MenuItem | null)[] } {
  const editRecords = useStudio((s) => s.editRecords);
  const { view, look } = useView(table);
  const pointed = useRef<{ field: Field } | { at: Block } | null>(null);

  const pointAt = (e: { target: EventTarget }): void => {
    const target = e.target as HTMLElement;
    const head = target.closest('[role=columnheader]')?.querySelector<HTMLElement>('[data-field]');
    const field = table.fields.find((f) => f.id === head?.dataset['field']);
    if (field) return void (pointed.current = { field });
    const [, row, column] = /^cell-(\d+)-(\d+)$/.exec(target.closest('[role=gridcell]')?.id ?? '') ?? [];
    if (row === undefined || !rowAt(Number(row)) || rowAt(Number(row))!.group) return void (pointed.current = null);
    const spot = { row: Number(row), column: Number(column) };
    // What is pressed is what is meant, unless it is one of several that are selected.
    const isIn = inBlock(block, spot.row, spot.column);
    if (!isIn) onSpot(spot);
    pointed.current = { at: isIn ? block : { top: spot.row, bottom: spot.row, left: spot.column, right: spot.column } };
  };

  const change =
    (label: string, recipe: (v: View) => void): (() => void) =>
    () =>
      look(label, recipe);
  const ofColumn = (f: Field): (MenuItem | null)[] => [
    {
      label: `Sort by ${f.name}, upwards`,
      icon: ArrowDownAZ,
      run: change(`Sorted ${table.name}`, (v) => void (v.order = [{ by: f.id, descending: false }])),
    },
    {
      label: `Sort by ${f.name}, downwards`,
      icon: ArrowUpAZ,
      run: change(`Sorted ${table.name}`, (v) => void (v.order = [{ by: f.id, descending: true }])),
    },
    view.group === f.id
      ? {
          label: 'Group by nothing',
          icon: ListTree,
          run: change(`Grouped ${table.name}`, (v) => void (v.group = null)),
        }
      : {
          label: `Group by ${f.name}`,
          icon: ListTree,
          run: change(`Grouped ${table.name}`, (v) => void (v.group = f.id)),
        },
    {
      label: 'Hide this column',
      icon: EyeOff,
      disabled: columns.length < 2,
      run: change(`Hid ${f.name}`, (v) => void v.hidden.push(f.id)),
    },
    null,
    { label: `Change the field ${f.name}`, icon: Settings2, run: () => onSelectField(f.id) },
  ];

  const ofCells = (at: Block): (MenuItem | null)[] => {
    const row = rowAt(at.top)!;
    const { field, place } = columns[at.left]!;
    const isOne = at.top === at.bottom;
    const literal = isOne && at.left === at.right ? literalOf(field, row.cells[place]!) : null;
    const many = at.bottom - at.top + 1;
    const them = isOne ? aOrAn(table.one) : `${many.toLocaleString('en-GB')} records`;
    const visible = (): Promise<GridRow[]> => rowsOf(at);
    return [
      ...(isOne
        ? [{ label: 'Open this record', icon: PanelRight, hint: 'Shift Space', run: () => onOpen(table.id, row.id) }]
        : []),
      {
        label: 'Copy',
        icon: Copy,
        hint: 'Ctrl C',
        run: () =>
          void visible()
            .then((rows) => navigator.clipboard.writeText(blockText(columns, rows, at)))
            .then(() => toast('Copied it.'))
            .catch(() => toast('This browser does not let a menu copy. Press Ctrl C.')),
      },
      { label: 'Clear', icon: Eraser, hint: 'Del', run: empty },
      ...(literal
        ? [
            null,
            {
              label: `Show only where ${field.name} is ${row.cells[place]!.shown.slice(0, 24)}`,
              icon: Filter,
              run: change(`Filtered ${table.name}`, (v) => {
                const only = { left: field.id, op: 'is' as const, right: literal };
                if (v.where.match === 'all') v.where.conditions.push(only);
                else v.where = { match: 'all', conditions: [only], groups: [v.where] };
              }),
            },
          ]
        : []),
      null,
      {
        label: isOne ? 'Duplicate this record' : `Duplicate ${them}`,
        icon: CopyPlus,
        run: () =>
          void visible().then((rows) =>
            editRecords(
              `Duplicated ${them}`,
              rows.map((r) => duplicateDraft(table, r)),
            ),
          ),
      },
      {
        label: isOne ? 'Remove this record' : `Remove ${them}`,
        icon: Trash2,
        danger: true,
        run: () =>
          void visible().then((rows) =>
            editRecords(
              `Removed ${them}`,
              rows.map((r) => ({ do: 'remove', table: table.id, record: r.id })),
            ),
          ),
      },
    ];
  };
  return {
    pointAt,
    items() {
      const now = pointed.current;
      return now === null ? [] : 'field' in now ? ofColumn(now.field) : ofCells(now.at);
    },
  };
}
