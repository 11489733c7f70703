import { BOOLEAN, NUMBER, TEXT, listOf } from '../types.ts';
import { patternOf, replaced } from '../patterns.ts';
import { define } from './define.ts';
import { toText } from './convert.ts';
import type { Value } from '../values.ts';

const points = (s: string): string[] => Array.from(s);

export const TEXT_FUNCTIONS = [
  define(
    'substring',
    'string: text, start position: number, length?: number',
    TEXT,
    (s: string, start: number, length: number | null) => {
      const all = points(s);
      const from = start > 0 ? start - 1 : all.length + start;
      if (start === 0 || from < 0) return null;
      return (length === null ? all.slice(from) : all.slice(from, from + length)).join('');
    },
  ),
  define('string length', 'string: text', NUMBER, (s: string) => points(s).length),
  define('upper case', 'string: text', TEXT, (s: string) => s.toUpperCase()),
  define('lower case', 'string: text', TEXT, (s: string) => s.toLowerCase()),
  define('trim', 'string: text', TEXT, (s: string) => s.trim()),
  define('substring before', 'string: text, match: text', TEXT, (s: string, m: string) => {
    const i = s.indexOf(m);
    return i < 0 ? '' : s.slice(0, i);
  }),
  define('substring after', 'string: text, match: text', TEXT, (s: string, m: string) => {
    const i = s.indexOf(m);
    return i < 0 ? '' : s.slice(i + m.length);
  }),
  define(
    'replace',
    'input: text, pattern: text, replacement: text, flags?: text',
    TEXT,
    (s: string, p: string, r: string, f: string | null) => {
      const pattern = patternOf(p, f);
      return pattern && replaced(s, pattern.matches(s), r, f?.includes('q') ?? false);
    },
  ),
  define('contains', 'string: text, match: text', BOOLEAN, (s: string, m: string) => s.includes(m)),
  define('starts with', 'string: text, match: text', BOOLEAN, (s: string, m: string) => s.startsWith(m)),
  define('ends with', 'string: text, match: text', BOOLEAN, (s: string, m: string) => s.endsWith(m)),
  define(
    'matches',
    'input: text, pattern: text, flags?: text',
    BOOLEAN,
    (s: string, p: string, f: string | null) => patternOf(p, f)?.isIn(s) ?? null,
  ),
  define('split', 'string: text, delimiter: text', listOf(TEXT), (s: string, d: string) => {
    const pattern = patternOf(d, null);
    if (!pattern) return null;
    // A delimiter that can be nothing divides the text into its letters.
    const found = pattern.matches(s).filter((m) => m.to > m.from || (m.from > 0 && m.from < s.length));
    return [0, ...found.map((m) => m.to)].map((from, i) => s.slice(from, found[i]?.from));
  }),
  define(
    'string join',
    'list: list, delimiter?: text, prefix?: text, suffix?: text',
    TEXT,
    (list: Value[], d: string | null, p: string | null, s: string | null) => {
      if (list.some((x) => x !== null && typeof x !== 'string')) return null;
      return (p ?? '') + list.filter((x) => x !== null).join(d ?? '') + (s ?? '');
    },
  ),
  define(
    'extract',
    'input: text, pattern: text, flags?: text',
    listOf(TEXT),
    (s: string, p: string, f: string | null) => {
      return (
        patternOf(p, f)
          ?.matches(s)
          .map((m) => s.slice(m.from, m.to)) ?? null
      );
    },
  ),
  define('string', 'from: any', TEXT, (v: Value) => toText(v)),
];
