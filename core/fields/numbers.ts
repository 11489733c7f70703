import { BOOLEAN, NUMBER } from '../formula/types.ts';

// Four-figure numbers carry no mark, so that years read as years; small ones keep their first digits.
const large = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 4, useGrouping: 'min2' as unknown as boolean });
const small = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 4 });
const fixedFormats = new Map<number, Intl.NumberFormat>();
const cents = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** A number as people read it: at most four digits behind the point. */
export function plainNumber(n: number): string {
  // What needs no grouping or rounding is its own text; the formatter takes a hundred times as long.
  if (Number.isInteger(n) && n > -10_000 && n < 10_000 && !Object.is(n, -0)) return String(n);
  return Math.abs(n) >= 1 || n === 0 ? large.format(n) : small.format(n);
}

/** Money as people read it: signs stand before the amount, words and codes behind it. */
export const moneyText = (n: number, unit: string): string =>
  /\p{L}\.?$/u.test(unit) ? `${centsNumber(n)} ${unit}` : `${n < 0 ? '-' : ''}${unit}${centsNumber(Math.abs(n))}`;

/** A number with so many digits behind the point. */
export function fixedNumber(n: number, decimals: number): string {
  let format = fixedFormats.get(decimals);
  if (!format) {
    format = new Intl.NumberFormat('en-GB', {
      minimumFractionDigits: decimals,
      maximumFractionDigits: decimals,
      useGrouping: 'min2' as unknown as boolean,
    });
    fixedFormats.set(decimals, format);
  }
  return format.format(n);
}

/** A number with two digits behind the point and its thousands marked. */
export const centsNumber = (n: number): string => cents.format(n);

export const readNumber = (cell: unknown): number | null =>
  typeof cell === 'number' && Number.isFinite(cell) ? cell : null;

/** How many digits behind the point a spreadsheet program shows. */
export const places = (decimals: number): string => (decimals ? `0.${'0'.repeat(decimals)}` : '0');
export const quoted = (text: string): string => `"${text.replace(/"/g, '')}"`;

export const numberType = () => NUMBER;
export const booleanType = () => BOOLEAN;
