/**
 * Arithmetic on JavaScript numbers with the decimal meaning makers expect: 0.1 + 0.2 is 0.3.
 * A result that is not a whole number is rounded to 15 significant decimal digits, which a double
 * always holds exactly enough to print back, so sums of money stay true to the cent.
 */

const POWERS = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

/** Rounds to 15 significant digits. Powers of ten up to 1e22 are exact doubles, so the division rounds once. */
export function fix(x: number): number {
  if (Number.isInteger(x)) return x;
  const a = Math.abs(x);
  // Most figures are prices, weights and shares: their size is found without counting digits.
  if (a >= 1 && a < 1000)
    return a < 10 ? Math.round(x * 1e14) / 1e14 : a < 100 ? Math.round(x * 1e13) / 1e13 : Math.round(x * 1e12) / 1e12;
  if (!(a < 1e15)) return x;
  if (a < 1e-7) return Number(x.toPrecision(15));
  let digits = 14;
  if (a >= 1) {
    for (let limit = 10; a >= limit; limit *= 10) digits--;
  } else {
    for (let limit = 1; a < limit; limit /= 10) digits++;
  }
  const p = POWERS[Math.max(0, Math.min(22, digits))]!;
  return Math.round(x * p) / p;
}

/** Scales at which most figures of sheets are whole: prices, weights, shares. */
const SCALES = [10, 100, 1000, 1e4, 1e6] as const;
const MOST_EXACT = 2 ** 53;

/** The first scale at which both numbers are whole, and small enough that whole numbers add exactly; 0 for none. */
function scaleOf(a: number, b: number): number {
  for (const p of SCALES) {
    const [x, y] = [Math.round(a * p), Math.round(b * p)];
    if (x / p === a && y / p === b) return Math.abs(x) + Math.abs(y) < MOST_EXACT ? p : 0;
  }
  return 0;
}

/**
 * The sum of two numbers as their decimals add up. Where both are whole at some scale up to a millionth it is exact;
 * where digits cancel out the decimals themselves are added; otherwise it is right to 15 significant digits.
 */
export function add(a: number, b: number): number {
  const r = a + b;
  if (Number.isInteger(a) && Number.isInteger(b)) return r;
  const scale = scaleOf(a, b);
  if (scale) return (Math.round(a * scale) + Math.round(b * scale)) / scale;
  return Math.abs(r) < Math.max(Math.abs(a), Math.abs(b)) ? sumOfDecimals(a, b, r) : fix(r);
}
export const subtract = (a: number, b: number): number => add(a, -b);

/** Digits and exponent of a number: 0.25 is 25 and -2. */
function decimalOf(x: number): { digits: bigint; exponent: number } {
  const [mantissa, e = '0'] = String(x).split('e') as [string, string?];
  const [whole, fraction = ''] = mantissa.split('.') as [string, string?];
  return { digits: BigInt(whole + fraction), exponent: Number(e) - fraction.length };
}

/** `near` is what doubles give: enough for numbers that lie too far apart to be written out. */
function sumOfDecimals(a: number, b: number, near: number): number {
  const [x, y] = [decimalOf(a), decimalOf(b)];
  const exponent = Math.min(x.exponent, y.exponent);
  if (Math.max(x.exponent, y.exponent) - exponent > 60) return fix(near);
  const at = (d: typeof x): bigint => d.digits * 10n ** BigInt(d.exponent - exponent);
  return Number(`${at(x) + at(y)}e${exponent}`);
}

/**
 * The sum of many numbers as their decimals add up, in whatever order they come. Null when it has more digits than a
 * number can keep, or the numbers lie too far apart to be written out.
 */
export function exactSum(numbers: readonly number[]): number | null {
  const all = numbers.map(decimalOf);
  const exponent = all.reduce((least, d) => Math.min(least, d.exponent), 0);
  if (all.some((d) => d.exponent - exponent > 400)) return null;
  const digits = all.reduce((sum, d) => sum + d.digits * 10n ** BigInt(d.exponent - exponent), 0n);
  const sum = Number(`${digits}e${exponent}`);
  if (!Number.isFinite(sum)) return null;
  const kept = decimalOf(sum);
  const least = Math.min(exponent, kept.exponent);
  const at = (d: bigint, e: number): bigint => d * 10n ** BigInt(e - least);
  return at(digits, exponent) === at(kept.digits, kept.exponent) ? sum : null;
}

/** What is left of `a` divided by `b`, with the sign of `b`; null by zero. As the decimals are written. */
export function modulo(a: number, b: number): number | null {
  if (b === 0) return null;
  if (Number.isSafeInteger(a) && Number.isSafeInteger(b)) {
    const rest = a % b;
    return rest !== 0 && rest < 0 !== b < 0 ? rest + b : rest + 0;
  }
  const [x, y] = [decimalOf(a), decimalOf(b)];
  const exponent = Math.min(x.exponent, y.exponent);
  // So far apart there is nothing left that a double could tell.
  if (Math.max(x.exponent, y.exponent) - exponent > 400) return null;
  const at = (d: typeof x): bigint => d.digits * 10n ** BigInt(d.exponent - exponent);
  const [p, q] = [at(x), at(y)];
  let rest = p % q;
  if (rest !== 0n && rest < 0n !== q < 0n) rest += q;
  return Number(`${rest}e${exponent}`);
}

export const multiply = (a: number, b: number): number => fix(a * b);

/** Division; null by zero. A quotient that does not end (1/3) keeps its full precision. */
export function divide(a: number, b: number): number | null {
  if (b === 0) return null;
  const q = a / b;
  if (Number.isInteger(q)) return q;
  const short = fix(q);
  return fix(short * b) === a ? short : q;
}

/** Exponent; null when the result is not a finite number. */
export function power(a: number, b: number): number | null {
  const r = fix(a ** b);
  return Number.isFinite(r) ? r : null;
}

/** Plain decimal digits without exponent, as FEEL prints numbers. */
export function numberText(x: number): string {
  const s = String(x);
  if (!s.includes('e')) return s;
  const [mantissa, exponent] = s.split('e') as [string, string];
  const sign = mantissa.startsWith('-') ? '-' : '';
  const [whole, fraction = ''] = mantissa.replace('-', '').split('.') as [string, string?];
  const shift = Number(exponent);
  const digits = whole + fraction;
  const point = whole.length + shift;
  if (point <= 0) return `${sign}0.${'0'.repeat(-point)}${digits}`;
  if (point >= digits.length) return sign + digits + '0'.repeat(point - digits.length);
  return `${sign}${digits.slice(0, point)}.${digits.slice(point)}`;
}

export type Rounding = 'up' | 'down' | 'half up' | 'half down' | 'half even' | 'floor' | 'ceiling';

/** Rounds to `scale` decimal places (may be negative) by the named rule of the FEEL standard. */
export function round(x: number, scale: number, rule: Rounding): number {
  // Shift by text, so that 1.005 to 2 places is judged by its decimal digits.
  const shifted = shift(x, scale);
  const floor = Math.floor(shifted);
  const rest = shifted - floor;
  let n: number;
  switch (rule) {
    case 'floor':
      n = floor;
      break;
    case 'ceiling':
      n = Math.ceil(shifted);
      break;
    case 'up':
      n = shifted < 0 ? floor : Math.ceil(shifted);
      break;
    case 'down':
      n = Math.trunc(shifted);
      break;
    default: {
      // Halves are exact in doubles, so a tie is one as it is written and nothing near it.
      const tie = rest === 0.5;
      if (!tie) n = Math.round(shifted);
      else if (rule === 'half even') n = floor % 2 === 0 ? floor : floor + 1;
      else n = (rule === 'half up') === shifted > 0 ? floor + 1 : floor;
    }
  }
  const result = shift(n, -scale);
  return result === 0 ? 0 : result;
}

function shift(x: number, by: number): number {
  const [m, e = '0'] = String(x).split('e') as [string, string?];
  return Number(`${m}e${Number(e) + by}`);
}
