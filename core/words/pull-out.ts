import { makeDate, parseTime } from '../formula/temporal.ts';
import type { Value } from '../formula/values.ts';

export const PULLED = {
  dates: 'dates',
  times: 'times of day',
  numbers: 'numbers',
  amounts: 'amounts of money',
  mails: 'mail addresses',
  phones: 'telephone numbers',
  pages: 'addresses of pages',
  names: 'names',
} as const;
export type Pulled = keyof typeof PULLED;

const MONTHS = 'january february march april may june july august september october november december'.split(' ');
const MONTH = '(jan|feb|mar|apr|may|jun|jul|aug|sep|sept|oct|nov|dec)[a-z]*\\.?';
const monthOf = (word: string): number => MONTHS.findIndex((m) => m.startsWith(word.toLowerCase().slice(0, 3))) + 1;

/** A number as it is written with points, commas or spaces between thousands; null where it can mean two. */
export function numberIn(text: string): number | null {
  const plain = text.replace(/[\s’'](?=\d{3}\b)/g, '');
  if (/^-?\d+$/.test(plain)) return Number(plain);
  const [, whole, sign, rest] = /^(-?[\d.,]*?)([.,])(\d+)$/.exec(plain) ?? [];
  if (whole === undefined) return null;
  const other = sign === '.' ? ',' : '.';
  const body = whole.replaceAll(other, '');
  if (!/^-?\d*$/.test(body)) return rest!.length === 3 ? numberIn(plain.replace(/[.,]/g, '')) : null;
  // “1,234” and “1.234” are thousands for some and thousandths for others.
  if (rest!.length === 3 && !whole.includes(other) && body.length <= 3 && body !== '0') return null;
  return Number(`${body || '0'}.${rest}`);
}

/** What stands in a text of a kind, in its order, each once. What can be read in two ways is left out. */
export function pullOut(text: string, kind: Pulled, year: number): Value[] {
  switch (kind) {
    case 'dates':
      return once(datesIn(text, year));
    case 'times':
      return once(
        matches(text, /\b([01]?\d|2[0-3])[:.]([0-5]\d)\b(?:\s*(am|pm))?|\b(1[0-2]|[1-9])\s*(am|pm)\b/gi).flatMap(
          (m) => {
            const half = (m[3] ?? m[5])?.toLowerCase();
            const hour = (Number(m[1] ?? m[4]) % (half ? 12 : 24)) + (half === 'pm' ? 12 : 0);
            return parseTime(`${String(hour).padStart(2, '0')}:${m[2] ?? '00'}:00`) ?? [];
          },
        ),
      );
    case 'amounts':
      return once(
        matches(
          text,
          /(?:[£$€¥]|\b(?:gbp|usd|eur|dkk|sek|nok|chf)\b)\s*(-?\d[\d.,’' ]{0,24}\d|\d)|(-?\d[\d.,’' ]{0,24}\d|\d)\s*(?:[£$€¥]|\b(?:pounds?|dollars?|euros?|kr|gbp|usd|eur|dkk|sek|nok|chf)\b)/gi,
        ).flatMap((m) => numberIn((m[1] ?? m[2])!) ?? []),
      );
    case 'numbers':
      return once(
        matches(text, /(?<![\w.,-])-?\d[\d.,]{0,40}\d(?![\w])|(?<![\w.,-])-?\d(?![\w])/g).flatMap(
          (m) => numberIn(m[0]) ?? [],
        ),
      );
    case 'mails':
      return once(matches(text, /(?<![\w.+-])[\w.+-]{1,64}@[\w-]{1,63}(?:\.[\w-]{1,63}){1,8}/g).map((m) => m[0]));
    case 'phones':
      return once(
        matches(text, /(?<![\w.])(?:\+|00)?\d[\d ()/.-]{5,18}\d(?![\w])/g)
          .map((m) => m[0].trim())
          .filter((p) => p.replace(/\D/g, '').length >= 7 && !/^\d{4}-\d\d-\d\d$/.test(p)),
      );
    case 'pages':
      return once(matches(text, /\bhttps?:\/\/[^\s<>"')\]]{1,2000}[^\s<>"')\].,;:!?]/gi).map((m) => m[0]));
    case 'names':
      // Words with a capital that do not begin a sentence, and what follows them with one.
      return once(
        matches(
          text,
          /(?<=[\p{Ll}\p{N},;:)”"]\s{1,3})\p{Lu}[\p{L}’-]{1,60}(?:\s{1,3}\p{Lu}[\p{L}’-]{1,60}){0,5}/gu,
        ).map((m) => m[0]),
      );
  }
}

function datesIn(text: string, year: number): Value[] {
  const found: { at: number; date: Value }[] = [];
  const take = (pattern: RegExp, read: (m: RegExpExecArray) => [number, number, number] | null): void => {
    for (const m of matches(text, pattern)) {
      const parts = read(m);
      const date = parts && makeDate(...parts);
      if (date) found.push({ at: m.index, date });
    }
  };
  take(/\b(\d{4})-(\d\d)-(\d\d)\b/g, (m) => [Number(m[1]), Number(m[2]), Number(m[3])]);
  take(
    new RegExp(`\\b(\\d{1,2})(?:st|nd|rd|th)?\\.?\\s+(?:of\\s+)?${MONTH}(?:,?\\s+(\\d{4})(?!-\\d))?\\b`, 'gi'),
    (m) => [Number(m[3] ?? year), monthOf(m[2]!), Number(m[1])],
  );
  take(new RegExp(`\\b${MONTH}\\s+(\\d{1,2})(?:st|nd|rd|th)?\\b(?!\\s*:)(?:,?\\s+(\\d{4})(?!-\\d))?`, 'gi'), (m) => [
    Number(m[3] ?? year),
    monthOf(m[1]!),
    Number(m[2]),
  ]);
  take(/\b(\d{1,2})[./](\d{1,2})[./](\d{4})\b/g, (m) => {
    const [a, b] = [Number(m[1]), Number(m[2])];
    // The third of April and the fourth of March are written alike.
    if (a <= 12 && b <= 12 && a !== b) return null;
    return a > 12 ? [Number(m[3]), b, a] : [Number(m[3]), a, b];
  });
  return found.sort((a, b) => a.at - b.at).map((f) => f.date);
}

// Every pattern is bounded, so that no text is searched longer than its length allows.
const matches = (text: string, pattern: RegExp): RegExpExecArray[] => [...text.matchAll(pattern)] as RegExpExecArray[];
const once = (values: Value[]): Value[] => [...new Map(values.map((v) => [JSON.stringify(v), v])).values()];
