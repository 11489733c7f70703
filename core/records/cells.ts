import type { Field } from '../tables/schema.ts';
import { fix } from '../formula/number.ts';
import {
  dateText,
  dateTimeText,
  durationText,
  parseDate,
  parseDateTime,
  parseDuration,
  parseTime,
  timeText,
} from '../formula/temporal.ts';
import { BOOLEAN, DATE, DATETIME, DAYS, NUMBER, TEXT, TIME, listOf, type Type } from '../formula/types.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  RecordValue,
  isContext,
  newContext,
  type Value,
} from '../formula/values.ts';
import { listCell, toListCell, type Cell } from '../fields/lists.ts';
import { patternFits } from '../fields/pattern.ts';
import {
  readDateText,
  readDateTimeText,
  readDurationText,
  readNumberText,
  readPlaceText,
  readPlanText,
  readTimeText,
  readYesNoText,
  type DayOrder,
} from '../fields/read-text.ts';

/** Fields that people fill in: neither worked out nor kept by the app itself. */
export const isWritable = (field: Field): boolean =>
  field.type !== 'formula' &&
  field.type !== 'id' &&
  field.type !== 'created' &&
  field.type !== 'changed' &&
  field.link?.kind !== 'matched';

const PLACE: Type = { k: 'context', entries: { latitude: NUMBER, longitude: NUMBER } };
const PLAN_PLACE: Type = { k: 'context', entries: { x: NUMBER, y: NUMBER } };

/** The type a stored field has in formulas; links and formula fields are settled by the model. */
export function cellType(field: Field): Type {
  switch (field.type) {
    case 'number':
    case 'money':
    case 'percent':
      return NUMBER;
    case 'yesno':
      return BOOLEAN;
    case 'time':
      return TIME;
    case 'date':
      return DATE;
    case 'datetime':
    case 'created':
    case 'changed':
      return DATETIME;
    case 'duration':
      return DAYS;
    case 'place':
      return PLACE;
    case 'plan':
      return PLAN_PLACE;
    case 'choice':
      return field.several ? listOf(TEXT) : TEXT;
    default:
      return TEXT;
  }
}

/** The value of a cell; null when the cell does not hold what its field says. */
export function readCell(field: Field, cell: unknown): Value {
  if (cell === null || cell === undefined || cell === '') return null;
  switch (field.type) {
    case 'number':
    case 'money':
    case 'percent':
      return typeof cell === 'number' && Number.isFinite(cell) ? cell : null;
    case 'time':
      return typeof cell === 'string' ? parseTime(cell) : null;
    case 'yesno':
      return typeof cell === 'boolean' ? cell : null;
    case 'date':
      return typeof cell === 'string' ? parseDate(cell) : null;
    case 'datetime':
    case 'created':
    case 'changed':
      return typeof cell === 'string' ? parseDateTime(cell) : null;
    case 'duration': {
      const d = typeof cell === 'string' ? parseDuration(cell) : null;
      return d instanceof DaysDuration ? d : null;
    }
    case 'place':
    case 'plan': {
      const place = typeof cell !== 'string' ? null : field.type === 'place' ? readPlaceText(cell) : readPlanText(cell);
      return place && newContext(Object.entries(place));
    }
    case 'choice':
      return field.several ? listCell(cell as Cell) : String(cell as string | number | boolean);
    case 'formula':
      return null;
    default:
      return typeof cell === 'string' ? cell : String(cell as number | boolean);
  }
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
  const longest = field.type === 'file' || field.type === 'sound' ? MAX_FILE_CELL : MAX_CELL;
  if (typeof cell === 'string' && cell.length > longest)
    return longest === MAX_CELL
      ? `${field.name} is longer than 400,000 characters.`
      : `The file for ${field.name} is larger than 1 MB. Choose a smaller one.`;
  if (typeof cell !== 'string' && typeof cell !== 'number' && typeof cell !== 'boolean')
    return `${field.name} takes one plain value.`;
  if (readCell(field, cell) === null && cell !== '')
    return `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)} for ${field.name}.`;
  return rangeProblem(field, cell) ?? choiceProblem(field, cell) ?? patternProblem(field, cell);
}

/** The longest cell, and the longest that holds a file: about 1 MB of it in base 64. */
export const MAX_CELL = 400_000;
export const MAX_FILE_CELL = 1_400_000;

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

const shownLimit = (field: Field, n: number): string => (field.type === 'percent' ? `${fix(n * 100)} %` : String(n));

export function spokenType(field: Pick<Field, 'type'>): string {
  return TYPE_NAMES[field.type];
}

/** Field types as the interface names them. */
export const TYPE_NAMES: Record<Field['type'], string> = {
  text: 'text',
  longtext: 'long text',
  number: 'number',
  money: 'money',
  percent: 'percent',
  yesno: 'yes/no',
  date: 'date',
  time: 'time',
  datetime: 'date and time',
  choice: 'choice',
  mail: 'mail',
  phone: 'phone',
  web: 'web address',
  picture: 'picture address',
  duration: 'duration',
  file: 'file',
  sound: 'sound',
  place: 'place',
  plan: 'place on a plan',
  code: 'scanned code',
  person: 'person',
  id: 'unique id',
  created: 'time of making',
  changed: 'time of the last change',
  link: 'link',
  formula: 'formula',
};

/** Turns what a person typed or pasted into a cell. Undefined when it does not fit the field. */
export function typedCell(
  field: Field,
  text: string,
  order: DayOrder = 'day first',
  decimal: '.' | ',' = '.',
): Cell | undefined {
  if (text.trim() === '') return null;
  switch (field.type) {
    case 'number':
    case 'money':
      return readNumberText(text, decimal) ?? undefined;
    case 'percent': {
      const n = readNumberText(text, decimal);
      return n === null ? undefined : fix(n / 100);
    }
    case 'time': {
      const t = readTimeText(text);
      return t ? timeText(t) : undefined;
    }
    case 'yesno':
      return readYesNoText(text) ?? undefined;
    case 'date': {
      const d =
        readDateText(text, order) ??
        (readDateTimeText(text, order) ? readDateText(text.trim().split(/[T ]/)[0]!, order) : null);
      return d ? dateText(d) : undefined;
    }
    case 'datetime': {
      const d = readDateText(text, order);
      const dt = readDateTimeText(text, order) ?? (d && new DateTime(d.day * 86_400_000));
      return dt ? dateTimeText(dt) : undefined;
    }
    case 'duration': {
      const d = readDurationText(text);
      return d ? durationText(d) : undefined;
    }
    case 'place': {
      const p = readPlaceText(text);
      return p ? `${p.latitude},${p.longitude}` : undefined;
    }
    case 'plan': {
      const p = readPlanText(text);
      return p ? `${p.x},${p.y}` : undefined;
    }
    case 'choice':
      return field.several ? toListCell(itemsOf(text)) : text;
    case 'formula':
    case 'id':
    case 'created':
    case 'changed':
      return undefined;
    default:
      return field.link?.kind === 'matched' ? undefined : text;
  }
}

/** Several items in one text: a JSON list as cells are, or items with commas, semicolons or lines between them. */
function itemsOf(text: string): string[] {
  if (text.startsWith('[')) return listCell(text);
  return text
    .split(/[,;\n]/)
    .map((s) => s.trim())
    .filter(Boolean);
}
