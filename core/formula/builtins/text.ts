import { BOOLEAN, NUMBER, TEXT, listOf } from '../types.ts';
import { define } from './define.ts';
import { toText } from './convert.ts';
import type { Value } from '../values.ts';

const points = (s: string): string[] => Array.from(s);

/** XPath regular expressions (DMN 1.5, 10.3.4.3) as JavaScript ones; null when the pattern or its flags are wrong. */
export function regex(pattern: string, flags: string | null, extra = ''): RegExp | null {
  const f = flags ?? '';
  if (/[^smixq]/.test(f)) return null;
  let p = f.includes('q') ? pattern.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') : pattern;
  if (f.includes('x')) p = p.replace(/\s+/g, '');
  try {
    return new RegExp(p, `${f.replace(/[xq]/g, '')}u${extra}`);
  } catch {
    return null;
  }
}

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
    'Part of a text, from a position that counts from 1.',
  ),
  define('string length', 'string: text', NUMBER, (s: string) => points(s).length, 'How many characters a text has.'),
  define('upper case', 'string: text', TEXT, (s: string) => s.toUpperCase(), 'The text in capital letters.'),
  define('lower case', 'string: text', TEXT, (s: string) => s.toLowerCase(), 'The text in small letters.'),
  define('trim', 'string: text', TEXT, (s: string) => s.trim(), 'The text without spaces around it.'),
  define(
    'substring before',
    'string: text, match: text',
    TEXT,
    (s: string, m: string) => {
      const i = s.indexOf(m);
      return i < 0 ? '' : s.slice(0, i);
    },
    'What stands before the first match.',
  ),
  define(
    'substring after',
    'string: text, match: text',
    TEXT,
    (s: string, m: string) => {
      const i = s.indexOf(m);
      return i < 0 ? '' : s.slice(i + m.length);
    },
    'What stands after the first match.',
  ),
  define(
    'replace',
    'input: text, pattern: text, replacement: text, flags?: text',
    TEXT,
    (s: string, p: string, r: string, f: string | null) => {
      const re = regex(p, f, 'g');
      if (!re) return null;
      return f?.includes('q') ? s.replace(re, () => r) : s.replace(re, r.replace(/\$0/g, '$$&'));
    },
    'The text with every match of a pattern replaced.',
  ),
  define(
    'contains',
    'string: text, match: text',
    BOOLEAN,
    (s: string, m: string) => s.includes(m),
    'Does the text hold another text?',
  ),
  define(
    'starts with',
    'string: text, match: text',
    BOOLEAN,
    (s: string, m: string) => s.startsWith(m),
    'Does the text begin with another text?',
  ),
  define(
    'ends with',
    'string: text, match: text',
    BOOLEAN,
    (s: string, m: string) => s.endsWith(m),
    'Does the text end with another text?',
  ),
  define(
    'matches',
    'input: text, pattern: text, flags?: text',
    BOOLEAN,
    (s: string, p: string, f: string | null) => regex(p, f)?.test(s) ?? null,
    'Does the text fit a pattern (regular expression)?',
  ),
  define(
    'split',
    'string: text, delimiter: text',
    listOf(TEXT),
    (s: string, d: string) => {
      const re = regex(d, null);
      return re ? s.split(re) : null;
    },
    'The pieces of a text between delimiters.',
  ),
  define(
    'string join',
    'list: list, delimiter?: text, prefix?: text, suffix?: text',
    TEXT,
    (list: Value[], d: string | null, p: string | null, s: string | null) => {
      if (list.some((x) => x !== null && typeof x !== 'string')) return null;
      return (p ?? '') + list.filter((x) => x !== null).join(d ?? '') + (s ?? '');
    },
    'Many texts as one, with a separator between them.',
  ),
  define(
    'extract',
    'input: text, pattern: text, flags?: text',
    listOf(TEXT),
    (s: string, p: string, f: string | null) => {
      const re = regex(p, f, 'g');
      return re ? Array.from(s.matchAll(re), (m) => m[0]) : null;
    },
    'All matches of a pattern.',
  ),
  define('string', 'from: any', TEXT, (v: Value) => toText(v), 'A value as text.'),
];
