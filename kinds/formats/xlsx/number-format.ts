import { fix, numberText as exactNumber } from '../../../core/formula/number.ts';

/** What a number format (ECMA-376, 18.8.30) makes of the numbers under it. */
export interface NumberFormat {
  is: 'plain' | 'percent' | 'date' | 'time' | 'moment' | 'duration' | 'padded' | 'money' | 'unit' | 'text';
  /** The currency or unit that is written beside the number. */
  beside?: string;
  /** Digits that a padded number has at least. */
  digits?: number;
}

const PLAIN: NumberFormat = { is: 'plain' };
/** Formats that a workbook names by number only (ECMA-376, 18.8.30). */
const BUILT_IN: Record<number, NumberFormat> = {
  9: { is: 'percent' },
  10: { is: 'percent' },
  18: { is: 'time' },
  19: { is: 'time' },
  20: { is: 'time' },
  21: { is: 'time' },
  22: { is: 'moment' },
  45: { is: 'time' },
  46: { is: 'duration' },
  47: { is: 'time' },
  49: { is: 'text' },
};
for (const id of [14, 15, 16, 17, 27, 28, 29, 30, 31, 36, 50, 51, 52, 53, 54, 57, 58]) BUILT_IN[id] = { is: 'date' };
for (const id of [32, 33, 34, 35, 55, 56]) BUILT_IN[id] = { is: 'time' };

/** Signs and codes of currencies as people write them. */
const CURRENCY = /^(?:[€$£¥₤₹₺₽₩₪₫₴₦฿₱]|[A-Z]{3}|US\$|A\$|C\$|R\$|kr\.?|zł|Kč|Ft|lei|Fr\.?|SFr\.?)$/;

export function builtInFormat(id: number): NumberFormat {
  return BUILT_IN[id] ?? PLAIN;
}

/** What a format's code says of numbers: its first part is for those that are not negative. */
export function readFormat(code: string): NumberFormat {
  const [first = ''] = code.split(/;(?=(?:[^"]*"[^"]*")*[^"]*$)/);
  if (/\[(?:h+|m+|s+)\]/i.test(first)) return { is: 'duration' };
  // Currencies stand in brackets with the place they are used in, in quotes, or as they are.
  const named = /\[\$([^\]-]+)(?:-[^\]]*)?\]/.exec(first)?.[1]?.trim();
  const quoted = [...first.matchAll(/"([^"]*)"/g)].map((m) => m[1]!.trim()).filter(Boolean);
  const bare = first
    .replace(/"[^"]*"/g, '')
    .replace(/\[[^\]]*\]/g, '')
    .replace(/[_*]./g, '');
  const escaped = [...bare.matchAll(/\\(.)/g)]
    .map((m) => m[1])
    .join('')
    .trim();
  const signs = bare.replace(/\\./g, '');
  if (/[#0?]/.test(signs)) {
    if (signs.includes('%')) return { is: 'percent' };
    const sign = named ?? /[€$£¥₤₹₺₽₩₪₫₴₦฿₱]/.exec(signs)?.[0] ?? [...quoted, escaped].find((q) => CURRENCY.test(q));
    if (sign) return { is: 'money', beside: sign };
    const unit = [...quoted, escaped].find((q) => q && /^[^\d#0?,.;]{1,12}$/.test(q) && /\p{L}|[°µΩ]/u.test(q));
    if (unit) return { is: 'unit', beside: unit };
    const zeros = /^0{2,}$/.exec(signs.trim());
    return zeros ? { is: 'padded', digits: zeros[0].length } : PLAIN;
  }
  if (signs.includes('@')) return { is: 'text' };
  const letters = signs.replace(/AM\/PM|A\/P/gi, '').toLowerCase();
  const clock = /[hs]/.test(letters);
  const day = /[yd]|mmm/.test(letters) || (!clock && /m/.test(letters));
  if (clock && day) return { is: 'moment' };
  return clock ? { is: 'time' } : day ? { is: 'date' } : PLAIN;
}

const DAY = 86_400;
const two = (n: number): string => String(n).padStart(2, '0');
const clockText = (seconds: number): string =>
  `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;

function hoursText(days: number): string {
  const seconds = Math.round(Math.abs(days) * DAY);
  return `${days < 0 && seconds ? '-' : ''}${clockText(seconds).replace(/^0(?=\d:)/, '')}`;
}

/** The day of a serial number. `epoch` is the days between the two systems that workbooks count by. */
function dateOf(serial: number, epoch: number): string | null {
  const whole = Math.floor(serial) + epoch;
  // The first system has a 29 February 1900, which there never was.
  const day = epoch === 0 && whole < 60 ? whole + 1 : whole;
  if (day < 1 || day > 2_958_465) return null;
  return new Date(Date.UTC(1899, 11, 30) + day * DAY * 1000).toISOString().slice(0, 10);
}

/**
 * A number as text that needs no guessing: ISO 8601 for dates and times, a share in percent, money and units with
 * what stands beside them. `epoch` is 1462 where a workbook counts from 1904. Null when it is no such date.
 */
export function numberText(n: number, format: NumberFormat, epoch: number): string | null {
  switch (format.is) {
    case 'percent':
      return `${exactNumber(fix(n * 100))}%`;
    case 'duration':
      return hoursText(n);
    case 'padded':
      return Number.isInteger(n) && n >= 0 ? String(n).padStart(format.digits!, '0') : exactNumber(n);
    case 'money':
    case 'unit':
      return `${exactNumber(n)} ${format.beside}`;
    case 'time':
    case 'date':
    case 'moment':
      return momentText(n, format.is, epoch);
    default:
      return exactNumber(n);
  }
}

function momentText(n: number, is: 'time' | 'date' | 'moment', epoch: number): string | null {
  let whole = Math.floor(n);
  let seconds = Math.round((n - whole) * DAY);
  if (seconds === DAY) [whole, seconds] = [whole + 1, 0];
  // A time of day, or hours that go on past midnight.
  if (is === 'time' && n < 1 && whole === 0) return clockText(seconds);
  if (is === 'time' && (n < 0 || whole < 366)) return hoursText(n);
  const date = dateOf(whole, epoch);
  if (date === null) return null;
  return seconds || is === 'moment' ? `${date}T${clockText(seconds)}` : date;
}
