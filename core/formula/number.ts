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

export const add = (a: number, b: number): number => fix(a + b);
export const subtract = (a: number, b: number): number => fix(a - b);
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
      const tie = Math.abs(rest - 0.5) < 1e-9;
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
