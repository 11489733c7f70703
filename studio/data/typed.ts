import type { Field } from '../../core/app/schema.ts';
import { typedCell, type Cell } from '../../core/records/cells.ts';

/** A typed text as a cell, or undefined when it does not fit the field. A decimal comma is taken where a point is not meant. */
export const cellFromText = (field: Field, text: string): Cell | undefined =>
  typedCell(field, text) ?? (text.trim() === '' ? null : typedCell(field, text, 'day first', ','));
