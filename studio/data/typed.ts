import '../../core/fields/typed-texts.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import type { Field } from '../../core/tables/schema.ts';
import { typedCell } from '../../core/records/cells.ts';
import type { Cell } from '../../core/fields/lists.ts';

/** A typed text as a cell, or undefined when it does not fit the field. A decimal comma is taken where a point is not meant. */
export const cellFromText = (field: Field, text: string): Cell | undefined =>
  typedCell(field, text) ?? (text.trim() === '' ? null : typedCell(field, text, 'day first', ','));

/** What stands in a cell when its editing begins: enough to lose nothing by keeping it as it is. */
export const startText = (field: Field, cell: Cell): string =>
  fieldKind(field.type).editText?.(cell) ?? String(cell ?? '');
