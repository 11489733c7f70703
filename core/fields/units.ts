/** What stands beside the numbers of a column: a currency, or what they count. */
export interface Unit {
  text: string;
  money: boolean;
}

const SIGNS = /^(?:(?:US|AU?|CA?|NZ|HK|S|R|MX)?\$|[€£¥₤₹₺₽₩₪₫₴₦฿₱]|kr\.?|zł|Kč|Ft|lei|S?Fr\.?)$/;
let codes: Set<string> | null = null;

/** Is it a currency, by its sign or its code (ISO 4217)? */
export function isCurrency(text: string): boolean {
  codes ??= new Set(Intl.supportedValuesOf('currency'));
  return SIGNS.test(text) || codes.has(text);
}

/** Measures that people write behind numbers, and in brackets behind the name of a column. */
const MEASURES = new Set(
  'kg g mg t lb oz l ml cl dl hl m cm mm km ft yd mi m² cm² km² ha m³ °C °F K h min s ms W kW MW Wh kWh MWh V A Hz kHz MHz bar Pa hPa kPa km/h m/s l/h kB MB GB % ★'.split(
    ' ',
  ),
);

/** Is it a unit by itself, in whatever place it stands? */
export const isKnownUnit = (text: string): boolean => MEASURES.has(text) || isCurrency(text);

const NUMBER = String.raw`[+-]?(?:\d[\d.,'’\s\u00a0\u202f]*\d|\d|[.,]\d+)`;
const BESIDE = new RegExp(
  String.raw`^(\()?\s*([+-]?)\s*([^\d\s.,()+\-%][^\d.,()+%]{0,11}?)?\s*(${NUMBER})\s*([^\d\s.,()+\-%][^\d()+%]{0,11})?\s*(\))?$`,
  'u',
);
/** Words behind a number that belong to it: a size of numbers, a time of day, an exponent. */
const NO_UNIT = /^(?:e|am|pm|a\.m\.|p\.m\.|h|uhr|st|nd|rd|th)$/i;

/** A number with nothing beside it. */
const PLAIN = /^[+-]?[\d.,]+$/;

/** A number and what stands beside it; null when the text is anything else. Brackets mean less than nought. */
export function splitUnit(text: string): { number: string; unit: string } | null {
  const m = BESIDE.exec(text.trim());
  if (!m || (m[1] === undefined) !== (m[6] === undefined)) return null;
  const [before, behind] = [m[3]?.trim() ?? '', m[5]?.trim() ?? ''];
  if (before && behind) return null;
  // Only currencies are written before a number; “Room 12” is a name.
  if (before && !isCurrency(before)) return null;
  if (behind && (NO_UNIT.test(behind) || !/^[\p{L}\p{Sc}°µΩ][\p{L}\p{Sc}°µΩ²³/.\s]*$/u.test(behind))) return null;
  const sign = m[1] !== undefined || m[2] === '-' ? '-' : '';
  if (sign && /^[+-]/.test(m[4]!)) return null;
  return { number: sign + m[4]!, unit: before || behind };
}

/**
 * What stands beside the numbers of a column. Numbers alone may be among them. Null when there is nothing, or different
 * things; `mixed` then names those.
 */
export function unitOf(values: readonly string[]): { unit: Unit | null; mixed: string[] } {
  const found = new Map<string, number>();
  let others = 0;
  for (const v of values) {
    if (PLAIN.test(v)) continue;
    const split = splitUnit(v);
    if (split?.unit) found.set(split.unit, (found.get(split.unit) ?? 0) + 1);
    // A unit or two among texts says nothing of the column.
    else if (!split && ++others > values.length / 10) return { unit: null, mixed: [] };
  }
  if (found.size === 0) return { unit: null, mixed: [] };
  if (found.size > 1) return { unit: null, mixed: [...found.keys()] };
  const [text] = [...found.keys()] as [string];
  return { unit: { text, money: isCurrency(text) }, mixed: [] };
}

/** A value without the unit of its column; as it is when it has another, or none. */
export function withoutUnit(text: string, unit: Unit | null): string {
  if (!unit) return text;
  const split = splitUnit(text);
  return split && split.unit === unit.text ? split.number : text;
}
