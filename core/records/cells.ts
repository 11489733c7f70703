import { fieldKind } from '../fields/kinds.ts';
import { toListCell, type Cell } from '../fields/lists.ts';
import type { DayOrder } from '../fields/read-text.ts';
import { dateText, dateTimeText, durationText, timeText } from '../formula/temporal.ts';
import type { Type } from '../formula/types.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  RecordValue,
  isContext,
  type Value,
} from '../formula/values.ts';
import type { Field } from '../tables/schema.ts';

/** Fields that people fill in: neither worked out nor kept by the app itself. */
export const isWritable = (field: Field): boolean => !fieldKind(field.type).keptByApp && field.link?.kind !== 'matched';

/** The type a stored field has in formulas; links and formula fields are settled by the model. */
export const cellType = (field: Field): Type => fieldKind(field.type).valueType(field);

/** The value of a cell; null when the cell does not hold what its field says. An empty yes/no is no, unless it may be open. */
export function readCell(field: Field, cell: unknown): Value {
  const kind = fieldKind(field.type);
  return cell === null || cell === undefined || cell === '' ? (kind.empty?.(field) ?? null) : kind.read(cell, field);
}

/** The cell a value is stored as. */
export function toCell(v: Value): Cell {
  if (v === null || typeof v === 'string' || typeof v === 'number' || typeof v === 'boolean') return v;
  if (v instanceof CalendarDate) return dateText(v);
  if (v instanceof DateTime) return dateTimeText(v);
  if (v instanceof ClockTime) return timeText(v);
  if (v instanceof DaysDuration) return durationText(v);
  if (v instanceof RecordValue) return v.id;
  if (Array.isArray(v)) {
    const items = v.map(toCell).filter((c) => c !== null && c !== '');
    return toListCell(items.map(String));
  }
  if (isContext(v)) {
    const pair = 'latitude' in v ? [v['latitude'], v['longitude']] : [v['x'], v['y']];
    return pair.every((n) => typeof n === 'number') ? pair.join(',') : null;
  }
  return null;
}

/** Turns what a person typed or pasted into a cell. Undefined when it does not fit the field. */
export const typedCell = (
  field: Field,
  text: string,
  order: DayOrder = 'day first',
  decimal: '.' | ',' = '.',
): Cell | undefined => (text.trim() === '' ? null : fieldKind(field.type).typed(text, { order, decimal }, field));

/** The cell in which a field keeps a value, in the form its type keeps. One value for a field of several is one of them. */
export function keptCell(field: Field, value: Value): Cell {
  const cell = toCell(field.several && value !== null && !Array.isArray(value) ? [value] : value);
  return fieldKind(field.type).kept?.(cell) ?? cell;
}
