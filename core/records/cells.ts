import { fieldKind } from '../../kinds/fields/index.ts';
import { MAX_CELL } from '../fields/kind.ts';
import { listCell, toListCell, type Cell } from '../fields/lists.ts';
import { patternFits } from '../fields/pattern.ts';
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

/** The value of a cell; null when the cell does not hold what its field says. */
export function readCell(field: Field, cell: unknown): Value {
  return cell === null || cell === undefined || cell === '' ? null : fieldKind(field.type).read(cell, field);
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

/** Says why a cell may not stand in a field, or null when it may. Sizes are bounded here for every border. */
export function checkCell(field: Field, cell: unknown): string | null {
  if (cell === null) return null;
  if (field.type === 'formula') return `${field.name} is worked out and cannot be written.`;
  if (field.link?.kind === 'matched') return `${field.name} follows from another field and cannot be written.`;
  const { longest = MAX_CELL, tooLong } = fieldKind(field.type);
  if (typeof cell === 'string' && cell.length > longest)
    return tooLong?.(field) ?? `${field.name} is longer than ${longest.toLocaleString('en-GB')} characters.`;
  if (typeof cell !== 'string' && typeof cell !== 'number' && typeof cell !== 'boolean')
    return `${field.name} takes one plain value.`;
  if (readCell(field, cell) === null && cell !== '')
    return `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)} for ${field.name}.`;
  return rangeProblem(field, cell) ?? choiceProblem(field, cell) ?? patternProblem(field, cell);
}

function choiceProblem(field: Field, cell: unknown): string | null {
  if (!field.only || field.type !== 'choice' || !field.choices?.length) return null;
  const odd = (field.several ? listCell(cell as Cell) : [String(cell)]).find(
    (c) => c !== '' && !field.choices!.some((x) => x.name === c),
  );
  return odd === undefined
    ? null
    : `“${odd.slice(0, 40)}” is none of the choices of ${field.name}: ${field.choices
        .slice(0, 6)
        .map((c) => c.name)
        .join(', ')}${field.choices.length > 6 ? ' and others' : ''}.`;
}

const patternProblem = (field: Field, cell: unknown): string | null =>
  !field.pattern || typeof cell !== 'string' || cell === '' || patternFits(field.pattern, cell)
    ? null
    : `${field.name} looks like ${field.pattern}, where # is a digit and @ a letter; “${cell.slice(0, 40)}” does not.`;

function rangeProblem(field: Field, cell: unknown): string | null {
  if (typeof cell !== 'number') return null;
  if (field.least !== undefined && cell < field.least)
    return `${field.name} is at least ${shownLimit(field, field.least)}.`;
  if (field.most !== undefined && cell > field.most)
    return `${field.name} is at most ${shownLimit(field, field.most)}.`;
  return null;
}

const shownLimit = (field: Field, n: number): string => fieldKind(field.type).limit?.(n) ?? String(n);

export const spokenType = (field: Pick<Field, 'type'>): string => fieldKind(field.type).name;

/** Turns what a person typed or pasted into a cell. Undefined when it does not fit the field. */
export const typedCell = (
  field: Field,
  text: string,
  order: DayOrder = 'day first',
  decimal: '.' | ',' = '.',
): Cell | undefined => (text.trim() === '' ? null : fieldKind(field.type).typed(text, { order, decimal }, field));
