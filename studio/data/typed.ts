import { fix } from '../../core/formula/number.ts';
import { parseDuration } from '../../core/formula/temporal.ts';
import { DaysDuration } from '../../core/formula/values.ts';
import { exactDuration } from '../../core/records/format.ts';
import type { Field } from '../../core/tables/schema.ts';
import { typedCell } from '../../core/records/cells.ts';
import type { Cell } from '../../core/fields/lists.ts';

/** A typed text as a cell, or undefined when it does not fit the field. A decimal comma is taken where a point is not meant. */
export const cellFromText = (field: Field, text: string): Cell | undefined =>
  typedCell(field, text) ?? (text.trim() === '' ? null : typedCell(field, text, 'day first', ','));

/** What stands in a cell when its editing begins: enough to lose nothing by keeping it as it is. */
export function startText(field: Field, cell: Cell): string {
  const raw = String(cell ?? '');
  switch (field.type) {
    case 'datetime':
      return raw.slice(0, 16);
    case 'percent':
      return typeof cell === 'number' ? `${fix(cell * 100)} %` : raw;
    case 'duration': {
      const d = parseDuration(raw);
      return d instanceof DaysDuration ? exactDuration(d) : raw;
    }
    case 'place':
    case 'plan':
      return raw.replace(',', ', ');
    default:
      return raw;
  }
}
