import { fix } from '../formula/number.ts';
import { readNumberText } from './read-number.ts';

/** Reads a place on the earth: degrees of latitude and longitude as "52.5, 13.4" or a geo address (RFC 5870). */
export function readPlaceText(text: string): { latitude: number; longitude: number } | null {
  const pair = readPair(text.replace(/^geo:/i, ''));
  return pair && Math.abs(pair[0]) <= 90 && Math.abs(pair[1]) <= 180
    ? { latitude: pair[0] + 0, longitude: pair[1] + 0 }
    : null;
}

/** Reads a place on a plan: how far across and how far down, as shares "0.25, 0.5" or percent "25 %, 50 %". */
export function readPlanText(text: string): { x: number; y: number } | null {
  const percent = text.includes('%');
  const pair = readPair(text.replace(/%|across|down/gi, ''));
  if (!pair) return null;
  const [x, y] = percent ? pair.map((n) => fix(n / 100)) : pair;
  return x! >= 0 && x! <= 1 && y! >= 0 && y! <= 1 ? { x: x!, y: y! } : null;
}

function readPair(text: string): [number, number] | null {
  // With a semicolon between them the numbers may have decimal commas.
  const parts = text.includes(';') ? text.replace(/,/g, '.').split(';') : text.split(',');
  const [a, b, more] = parts.map((p) => readNumberText(p));
  return parts.length === 2 && more === undefined && a != null && b != null ? [a, b] : null;
}
