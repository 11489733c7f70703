import '../fields/typed-texts.ts';
import { fieldGuesses } from '../fields/guesses.ts';
import type { Guess, Sample } from '../fields/guess.ts';
import { hasShortYear, offsetsIn, readDateText, USUAL_LAST_YEAR, type DayOrder } from '../fields/read-text.ts';
import { splitUnit, unitOf, withoutUnit, type Unit } from '../fields/units.ts';
import type { ColumnType } from './column-types.ts';

/** How the values of a column are read. */
export interface Inferred {
  type: ColumnType;
  decimal: '.' | ',';
  dayOrder: DayOrder;
  /** True when the dates can be read day first or month first, and nothing in the file tells which. */
  ambiguous: boolean;
  /** True when 1.200 can be read as a large number or a small one, and nothing in the file tells which. */
  ambiguousDecimal: boolean;
  unit: Unit | null;
  /** Years of two digits are of the hundred years up to this one. */
  until: number;
  /** True when people of any age may be meant, and nothing tells the hundred years. */
  ambiguousYears: boolean;
  /** Times have different offsets and become UTC. */
  utc: boolean;
  /** Only marks among empty cells: what is empty means no. */
  marks: boolean;
  notes: string[];
}

/** What the numbers and dates of a whole file say of how they are written. */
export interface Evidence {
  decimal: '.' | ',' | null;
  dayOrder: DayOrder | null;
}

/** Words that stand where there is nothing. */
const NOTHING = new Set([
  'n/a',
  'na',
  'n.a.',
  'null',
  'nil',
  'none',
  '#n/a',
  '-',
  '–',
  '—',
  '--',
  '?',
  'k.a.',
  'unknown',
]);
/** The longest of them. */
const LONGEST_NOTHING = 7;
export const meansNothing = (text: string): boolean =>
  text.length <= LONGEST_NOTHING + 2 && !/^\d/.test(text) && NOTHING.has(text.trim().toLowerCase());

/** Columns that hold names made of digits, by what people call them. */
const CODED =
  /(?:^|[\s_-])(?:code|nr\.?|no\.?|id|zip|plz|postcode|postal code|ean|gtin|isbn|sku|vin|iban|bic|phone|tel\.?|telephone|mobile|fax|serial|version|release)$|(?:article|part|order|serial|phone|customer|invoice|account|card|tag)[\s_-]*(?:no\.?|nr\.?|number)$/i;

/** Headers of days on which people were born. */
const BIRTH = /birth|born|\bdob\b|\bgeb|naiss|nacim|nascita|nascimento|urodz|född|født|syntym/i;

/** The type that the values fit: all of them, or all but one in twenty of a longer column. */
export function inferType(all: readonly string[], name: string, evidence: Evidence = NO_EVIDENCE): Inferred {
  const values = all.filter((v) => !meansNothing(v));
  const { unit, mixed } = unitOf(values);
  const signs = decimalSigns(values);
  const decimal = signs.comma > signs.point ? ',' : signs.point > 0 ? '.' : (evidence.decimal ?? '.');
  const dates = dateOrders(values);
  const settled = dates.day || dates.month;
  const dayOrder = settled
    ? dates.month > dates.day
      ? 'month first'
      : 'day first'
    : (evidence.dayOrder ?? 'day first');
  const tolerance = values.length >= 20 ? values.length * 0.05 : 0;
  const sample: Sample = {
    values,
    name,
    order: dayOrder,
    decimal,
    coded: mixed.length > 0 || isCoded(values, name),
    unit,
    bare: (v) => withoutUnit(v, unit),
    fits(test) {
      let misses = 0;
      for (const v of values) if (!test(v) && ++misses > tolerance) return false;
      return true;
    },
  };
  const marks = values.length > 0 && values.every((v) => /^[x✓✔]$/i.test(v));
  const found = values.length === 0 ? undefined : surestFirst().find(([, guess]) => guess.fits(sample));
  const type = (marks ? 'yesno' : (found?.[0] ?? 'text')) as ColumnType;
  const offsets = type === 'datetime' ? offsetsIn(values) : [];
  const isDay = type === 'date' || type === 'datetime';
  const born = isDay && BIRTH.test(name) && values.some(hasShortYear);
  const numeric = type === 'number' || type === 'money' || type === 'percent';
  return {
    type,
    decimal,
    dayOrder,
    ambiguous: dates.numeric > 0 && !settled && !evidence.dayOrder && Boolean(found?.[1].asksDayOrder),
    ambiguousDecimal: numeric && signs.comma === signs.point && !evidence.decimal && signs.either > 0,
    // Nobody is born after this year.
    until: born ? new Date().getUTCFullYear() : USUAL_LAST_YEAR,
    ambiguousYears: born,
    unit: numeric ? unit : null,
    utc: offsets.length > 1,
    marks,
    notes: notesOn(name, mixed, offsets),
  };
}

const NO_EVIDENCE: Evidence = { decimal: null, dayOrder: null };

function notesOn(name: string, mixed: readonly string[], offsets: readonly string[]): string[] {
  const notes: string[] = [];
  if (mixed.length)
    notes.push(
      `${name} has amounts in ${mixed.slice(0, 6).join(', ')}${mixed.length > 6 ? ' and others' : ''}; it stays text, so that none is taken for another.`,
    );
  if (offsets.length > 1)
    notes.push(
      `${name} has times of different zones (${offsets.map((o) => o || 'none').join(', ')}); all are brought to UTC, those without a zone as they stand.`,
    );
  else if (offsets[0]) notes.push(`The times of ${name} are at ${offsets[0]}, and stand as they are written there.`);
  return notes;
}

/** Are these names rather than numbers: with noughts in front, too long for a number, or with an E that is none? */
function isCoded(values: readonly string[], name: string): boolean {
  if (values.some((v) => /^[+-]?0\d+$/.test(v) || /^\d+[eE]\d+$/.test(v))) return true;
  // A plus before many digits is the beginning of a phone number.
  if (values.some((v) => /^\+[\d\s()/.-]+$/.test(v) && v.replace(/\D/g, '').length >= 8)) return true;
  if (values.some((v) => /^[+-]?(?:\d{16,}|\d{1,3}(?:[., ]\d{3}){5,})$/.test(v))) return true;
  return CODED.test(name.trim()) && values.every((v) => splitUnit(v)?.unit === '');
}

/** The types that columns are taken for, the surest first. */
const surestFirst = (): [type: string, guess: Guess][] => [...fieldGuesses].sort(([, a], [, b]) => a.order - b.order);

/** How many values can only be read with a comma as the decimal sign, only with a point, and either way. */
function decimalSigns(values: readonly string[]): { comma: number; point: number; either: number } {
  const count = { comma: 0, point: 0, either: 0 };
  for (const v of values) {
    if (!/\d[.,]\d/.test(v)) continue;
    const t = (splitUnit(v)?.number ?? v).replace(/[\s\u00a0\u202f%'’]/g, '');
    if (/^[+-]?[1-9]\d{0,2}[.,]\d{3}$/.test(t)) count.either++;
    else if (/^[+-]?(\d+|\d{1,3}(\.\d{3})+),\d+$/.test(t)) count.comma++;
    else if (/^[+-]?(\d+|\d{1,3}(,\d{3})+)\.\d+$/.test(t)) count.point++;
    // Several marks can only be thousands.
    else if (/^[+-]?\d{1,3}(\.\d{3}){2,}$/.test(t)) count.comma++;
    else if (/^[+-]?\d{1,3}(,\d{3}){2,}$/.test(t)) count.point++;
  }
  return count;
}

function dateOrders(values: readonly string[]): { day: number; month: number; numeric: number } {
  const count = { day: 0, month: 0, numeric: 0 };
  for (const v of values) {
    const m = /^(\d{1,2})[-/.](\d{1,2})[-/.](?:\d{4}|\d{2})\b/.exec(v);
    if (!m) continue;
    count.numeric++;
    // A point between the numbers is written day first everywhere it is used.
    if (Number(m[1]) > 12 || v[m[1]!.length] === '.') count.day++;
    else if (Number(m[2]) > 12) count.month++;
  }
  return count;
}

/**
 * What the columns of a file say together; nothing where they say different things. Numbers that are none of texts, in
 * `exact` columns, say nothing of how texts are written.
 */
export function evidenceOf(columns: readonly (readonly string[])[], exact: ReadonlySet<number> = new Set()): Evidence {
  let [comma, point, day, month] = [0, 0, 0, 0];
  for (const [i, values] of columns.entries()) {
    if (exact.has(i)) continue;
    const signs = decimalSigns(values);
    // A column of dates says nothing of numbers.
    const tells = signs.comma > 0 || signs.point > 0;
    if (tells && values.filter((v) => readDateText(v) !== null).length < values.length / 2) {
      comma += signs.comma;
      point += signs.point;
    }
    const dates = dateOrders(values);
    day += dates.day;
    month += dates.month;
  }
  return {
    decimal: comma && !point ? ',' : point && !comma ? '.' : null,
    dayOrder: day && !month ? 'day first' : month && !day ? 'month first' : null,
  };
}
