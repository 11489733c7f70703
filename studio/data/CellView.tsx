import { aOrAn } from '../../core/document/names.ts';
import type { ComponentType } from 'react';
import type { Field } from '../../core/tables/schema.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import type { GridCell } from '../engine/looking.ts';

const PALETTE = ['#DCEBE4', '#E3E7F4', '#FAEDCD', '#FAE4D9', '#EBE4D5', '#E6E2F0', '#DDE9EE', '#F0E4E4'];
/** The eight colours a choice can have, as the grid and the phone draw them. */
export const choiceColour = (n: number | undefined): string => PALETTE[n ?? 4]!;

export interface CellProps {
  field: Field;
  cell: GridCell;
  /** Opens a linked record; without it a chip is only shown. */
  onOpen?(table: string, record: string): void;
}

// One file a type; a type without one shows its words.
const files = import.meta.glob<{ default: ComponentType<CellProps> }>('../../kinds/fields/*/cell.tsx', {
  eager: true,
});

/** A cell that is not being edited, by the type of its field. */
export function CellView({ cell, ...props }: Omit<CellProps, 'cell'> & { cell: GridCell | undefined }) {
  if (!cell) return <span className="h-2.5 w-2/3 rounded bg-sunk/70" aria-hidden />;
  const { field } = props;
  const Own = files[`../../kinds/fields/${field.link ? 'link' : field.type}/cell.tsx`]?.default;
  if (Own && (cell.shown || field.link || fieldKind(field.type).grid?.toggles)) return <Own {...props} cell={cell} />;
  if (cell.stopped)
    return (
      <span className="truncate text-persimmon-deep" title={cell.shown}>
        {cell.shown}
      </span>
    );
  if (cell.raw !== null && !cell.shown && field.type !== 'formula')
    return (
      <span className="truncate text-persimmon-deep" title={`This is not ${aOrAn(fieldKind(field.type).name)}`}>
        {String(cell.raw)}
      </span>
    );
  return <span className="truncate">{cell.shown}</span>;
}
