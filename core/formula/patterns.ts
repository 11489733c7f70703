/**
 * Regular expressions on an engine whose time grows with the length of the text and no faster, whatever the pattern.
 * It is large, so it is loaded by whoever runs formulas that need it, before they run.
 */

/** One match in a text: where it is, and what its groups hold. */
export interface Match {
  from: number;
  to: number;
  groups: (string | null)[];
}

export interface Pattern {
  isIn(text: string): boolean;
  matches(text: string): Match[];
}

/** Compiles a pattern with flags from `s m i`; null when it is none. */
export type PatternEngine = (pattern: string, flags: string) => Pattern | null;

let engine: PatternEngine | null = null;
export const useEngine = (e: PatternEngine): void => {
  engine = e;
};

/** The built-in functions that take a pattern. */
const FUNCTIONS = /\b(matches|replace|split|extract)\s*\(/;
/** Does a part of a document hold a formula that takes a pattern? Anything like one counts. */
export const usesPatterns = (...parts: readonly unknown[]): boolean =>
  parts.some((part) => FUNCTIONS.test(JSON.stringify(part) ?? ''));

const compiled = new Map<string, Pattern | null>();
const KEPT = 500;

/** A pattern by XPath's flags (XPath and XQuery Functions 3.1, 5.6): `s m i x q`. Null when it or a flag is wrong. */
export function patternOf(source: string, flags: string | null): Pattern | null {
  if (!engine) throw new Error('The engine for patterns is not loaded.');
  const key = `${flags ?? ''}/${source}`;
  const known = compiled.get(key);
  if (known !== undefined) return known;
  const f = flags ?? '';
  let pattern = f.includes('q') ? source.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') : source;
  if (f.includes('x')) pattern = pattern.replace(/\s+/g, '');
  const made = /[^smixq]/.test(f) ? null : engine(pattern, f.replace(/[xq]/g, ''));
  if (compiled.size >= KEPT) compiled.clear();
  compiled.set(key, made);
  return made;
}

/** What `$1` and `\$` in a replacement stand for; a number beyond the groups stands for nothing. */
export function replaced(text: string, found: readonly Match[], by: string, plain: boolean): string {
  let out = '';
  let at = 0;
  for (const m of found) {
    const put = plain
      ? by
      : by.replace(
          /\\([\\$])|\$(\d)/g,
          (_, literal: string | undefined, digit: string | undefined) =>
            literal ?? (digit === '0' ? text.slice(m.from, m.to) : (m.groups[Number(digit) - 1] ?? '')),
        );
    out += text.slice(at, m.from) + put;
    at = m.to;
  }
  return out + text.slice(at);
}
