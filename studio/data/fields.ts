import { Type, type LucideIcon } from 'lucide-react';
import type { Field, FieldType, Table, View } from '../../core/tables/schema.ts';
import { FIELDS } from '../../kinds/fields/index.ts';
import { fieldKind } from '../../core/fields/kinds.ts';

// One file a type.
const icons = import.meta.glob<{ default: LucideIcon }>('../../kinds/fields/*/icon.ts', { eager: true });

export const fieldIcon = (type: string): LucideIcon => icons[`../../kinds/fields/${type}/icon.ts`]?.default ?? Type;
export const FIELD_ICONS = Object.fromEntries(FIELDS.map((d) => [d.type, fieldIcon(d.type)])) as Record<
  FieldType,
  LucideIcon
>;

/** Does a column of this type hold figures, which stand at the right? */
export const isFigures = (type: FieldType): boolean => fieldKind(type).grid?.figures ?? false;

/** A column of the grid: a field, its place among the cells of a row, and where it is drawn. */
export interface Column {
  field: Field;
  place: number;
  width: number;
  /** Pixels from the left edge of the table. */
  left: number;
  /** Stays in view while the rest scrolls sideways. */
  frozen: boolean;
}

/** The columns a view shows, from left to right. */
export function columnsOf(table: Table, view: View): Column[] {
  const hidden = new Set(view.hidden);
  let left = 0;
  const columns: Column[] = [];
  table.fields.forEach((field, place) => {
    if (hidden.has(field.id)) return;
    const width = view.widths[field.id] ?? fieldKind(field.type).grid?.width ?? 150;
    columns.push({ field, place, width, left, frozen: columns.length < view.frozen });
    left += width;
  });
  return columns;
}
