import type { Field } from '../app/schema.ts';
import { fix } from '../formula/number.ts';
import {
  dateText,
  dateTimeText,
  makeDate,
  parseDate,
  parseDateTime,
  parseTime,
  timeText,
} from '../formula/temporal.ts';
import { BOOLEAN, DATE, DATETIME, NUMBER, TEXT, TIME, type Type } from '../formula/types.ts';
import { CalendarDate, ClockTime, DateTime, type Value } from '../formula/values.ts';

/** A stored cell: what goes into files and over the wire. Dates are ISO 8601 text, a picked link is a record id. */
export type Cell = string | number | boolean | null;

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
      return DATETIME;
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
      return typeof cell === 'string' ? parseDateTime(cell) : null;
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
  return null;
}

/** Says why a cell may not stand in a field, or null when it may. Sizes are bounded here for every border. */
export function checkCell(field: Field, cell: unknown): string | null {
  if (cell === null) return null;
  if (field.type === 'formula') return `${field.name} is worked out and cannot be written.`;
  if (field.link?.kind === 'matched') return `${field.name} follows from another field and cannot be written.`;
  if (typeof cell === 'string' && cell.length > 400_000) return `${field.name} is longer than 400,000 characters.`;
  if (typeof cell !== 'string' && typeof cell !== 'number' && typeof cell !== 'boolean')
    return `${field.name} takes one plain value.`;
  if (readCell(field, cell) === null && cell !== '')
    return `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)} for ${field.name}.`;
  return rangeProblem(field, cell);
}

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
  link: 'link',
  formula: 'formula',
};

export type DayOrder = 'day first' | 'month first';
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** Reads a date as people write it: ISO, 23.11.2026, 23/11/26, 23 Nov 2026, Nov 23, 2026. Null when it is none. */
export function readDateText(text: string, order: DayOrder = 'day first'): CalendarDate | null {
  const t = text.trim().replace(/^(mon|tue|wed|thu|fri|sat|sun)[a-z]*,?\s+/i, '');
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(t);
  if (iso) return makeDate(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numeric = /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})$/.exec(t);
  if (numeric) {
    const [a, b] = [Number(numeric[1]), Number(numeric[2])];
    return order === 'day first' ? makeDate(fullYear(numeric[3]!), b, a) : makeDate(fullYear(numeric[3]!), a, b);
  }
  const worded =
    /^(\d{1,2})\.?[\s-]+([a-z]{3})[a-z]*\.?,?[\s-]+(\d{4}|\d{2})$/i.exec(t) ??
    swap(/^([a-z]{3})[a-z]*\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i.exec(t));
  if (worded) {
    const month = MONTHS.indexOf(worded[2]!.toLowerCase()) + 1;
    return month ? makeDate(fullYear(worded[3]!), month, Number(worded[1])) : null;
  }
  return null;
}

const swap = (m: RegExpExecArray | null): string[] | null => m && [m[0], m[2]!, m[1]!, m[3]!];
const fullYear = (y: string): number => (y.length === 4 ? Number(y) : Number(y) + (Number(y) < 70 ? 2000 : 1900));

const TIME_OF_DAY = /^(\d{1,2})[:.h](\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*(am|pm)?$/i;

/** Reads a date with a time; a date alone is no date and time. */
export function readDateTimeText(text: string, order: DayOrder = 'day first'): DateTime | null {
  const t = text.trim();
  const iso = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2})?(?:\.\d+)?)(Z|[+-]\d{2}:?\d{2})?$/.exec(t);
  if (iso) {
    const local = parseDateTime(`${iso[1]}T${iso[2]!.length === 5 ? `${iso[2]}:00` : iso[2]}`);
    return local && new DateTime(Math.floor(local.ms / 1000) * 1000);
  }
  const at = /^(.*?\d)(?:,|\s+at)?\s+(\d{1,2}[:.h]\d{2}(?::\d{2}(?:[.,]\d+)?)?\s*(?:am|pm)?)$/i.exec(t);
  if (!at) return null;
  const date = readDateText(at[1]!, order);
  const time = TIME_OF_DAY.exec(at[2]!);
  if (!date || !time) return null;
  let hour = Number(time[1]);
  if (time[4]) hour = (hour % 12) + (/pm/i.test(time[4]) ? 12 : 0);
  if (hour > 23 || Number(time[2]) > 59) return null;
  return new DateTime(date.day * 86_400_000 + ((hour * 60 + Number(time[2])) * 60 + Number(time[3] ?? 0)) * 1000);
}

/** Reads a number as people write it, with thousands marks, a decimal comma, a currency sign or a unit behind it. */
export function readNumberText(text: string, decimal: '.' | ',' = '.'): number | null {
  let t = text
    .trim()
    .replace(/[\u00a0\u202f\s']/g, '')
    .replace(/^(-?)[€$£¥]/, '$1')
    .replace(/[€$£¥%]$/, '');
  if (/^\(.*\)$/.test(t)) t = `-${t.slice(1, -1)}`;
  const group = decimal === '.' ? ',' : '.';
  const whole = group === ',' ? /^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/ : /^[+-]?\d{1,3}(\.\d{3})+(,\d+)?$/;
  if (whole.test(t)) t = t.split(group).join('');
  if (decimal === ',') t = t.replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(t) && Number.isFinite(Number(t)) ? Number(t) : null;
}

/** Reads a time of day: 15:58, 3.58 pm, 15h58. */
export function readTimeText(text: string): ClockTime | null {
  const m = TIME_OF_DAY.exec(text.trim());
  if (!m) return null;
  const hour = m[4] ? (Number(m[1]) % 12) + (/pm/i.test(m[4]) ? 12 : 0) : Number(m[1]);
  if (hour > 23 || Number(m[2]) > 59 || Number(m[3] ?? 0) > 59) return null;
  return new ClockTime(((hour * 60 + Number(m[2])) * 60 + Number(m[3] ?? 0)) * 1000);
}

const YES = new Set(['yes', 'y', 'true', 'ja', 'oui', 'si', 'sí', 'x', '✓', '1', 'on']);
const NO = new Set(['no', 'n', 'false', 'nein', 'non', '0', 'off', '-']);

export function readYesNoText(text: string): boolean | null {
  const t = text.trim().toLowerCase();
  return YES.has(t) ? true : NO.has(t) ? false : null;
}

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
    case 'formula':
      return undefined;
    default:
      return field.link?.kind === 'matched' ? undefined : text;
  }
}
