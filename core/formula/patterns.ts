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

/** Compiles a pattern with flags from `s m i x q`; null when it is none. */
export type PatternEngine = (pattern: string, flags: string) => Pattern | null;

let engine: PatternEngine | null = null;
export const useEngine = (e: PatternEngine): void => {
  engine = e;
};

/** Any of these names with an opening parenthesis behind it, also with line breaks, as JSON has them, or a comment between. */
const callOf = (names: string): string => `\\b(?:${names})(?:\\s|\\\\[nrt]|/\\*.{0,200}?\\*/)*\\(`;
/** The built-in functions that take a pattern. */
const FUNCTIONS = new RegExp(callOf('matches|replace|split|extract'));
/** Does a part of a document hold a formula that takes a pattern? Anything like one counts. */
export const usesPatterns = (json: string): boolean => FUNCTIONS.test(json);

/** The functions over ranges (DMN 1.5, 10.3.2.7), statistics, contexts, places of lists, work, and `instance of`. */
const RARE = new RegExp(
  `instance of|${callOf(
    '(?:before|after|meets|met|overlap|finishe[sd]|includes|during|start(?:s|ed)|coincides|range|product|median|stddev|mode|context|get|working)[ a-z]*|(?:insert|list|index) [a-z]+|sublist|remove|flatten|is',
  )}`,
);
/** Does it hold one that uses what few formulas do? */
export const usesRare = (json: string): boolean => RARE.test(json);

const compiled = new Map<string, Pattern | null>();
const KEPT = 500;

/** A pattern by XPath's flags (XPath and XQuery Functions 3.1, 5.6): `s m i x q`. Null when it or a flag is wrong. */
export function patternOf(source: string, flags: string | null): Pattern | null {
  if (!engine) throw new Error('The engine for patterns is not loaded.');
  const key = `${flags ?? ''}/${source}`;
  const known = compiled.get(key);
  if (known !== undefined) return known;
  const f = flags ?? '';
  const made = /[^smixq]/.test(f) ? null : engine(source, f);
  if (compiled.size >= KEPT) compiled.clear();
  compiled.set(key, made);
  return made;
}

/**
 * Puts something in the place of each match, in which `$1` is what a group holds, `$0` the match, `\$` a dollar and
 * `\\` a backslash. Null when it is written otherwise (XPath and XQuery Functions 3.1, 5.6.4, FORX0004).
 */
export function replaced(text: string, found: readonly Match[], by: string, plain: boolean): string | null {
  if (!plain && !/^(?:[^\\$]|\\[\\$]|\$\d)*$/.test(by)) return null;
  let out = '';
  let at = 0;
  for (const m of found) {
    out += text.slice(at, m.from) + (plain ? by : filled(by, text, m));
    at = m.to;
  }
  return out + text.slice(at);
}

const filled = (by: string, text: string, m: Match): string =>
  by.replace(/\\([\\$])|\$(\d+)/g, (_, literal: string | undefined, digits: string | undefined) => {
    if (literal !== undefined) return literal;
    // As many digits as there is a group for; a single one beyond the groups stands for nothing.
    let n = digits!.length;
    while (n > 1 && Number(digits!.slice(0, n)) > m.groups.length) n--;
    const group = Number(digits!.slice(0, n));
    return (group === 0 ? text.slice(m.from, m.to) : (m.groups[group - 1] ?? '')) + digits!.slice(n);
  });
