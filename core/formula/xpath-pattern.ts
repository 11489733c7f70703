/**
 * Regular expressions by the rules of XPath (XPath and XQuery Functions and Operators 3.1, 5.6; XML Schema 1.1 part 2,
 * appendix G), rewritten for an engine of RE2’s syntax. Back-references are not among them: no engine that keeps to the
 * length of the text can have them.
 */

type Range = readonly [number, number];
const LAST = 0x10ffff;

/** Characters that may begin a name, and those that may follow (XML 1.0, 2.3). */
const NAME_START: readonly Range[] = [
  [0x3a, 0x3a],
  [0x41, 0x5a],
  [0x5f, 0x5f],
  [0x61, 0x7a],
  [0xc0, 0xd6],
  [0xd8, 0xf6],
  [0xf8, 0x2ff],
  [0x370, 0x37d],
  [0x37f, 0x1fff],
  [0x200c, 0x200d],
  [0x2070, 0x218f],
  [0x2c00, 0x2fef],
  [0x3001, 0xd7ff],
  [0xf900, 0xfdcf],
  [0xfdf0, 0xfffd],
  [0x10000, 0xeffff],
];
const NAME: readonly Range[] = [
  ...NAME_START,
  [0x2d, 0x2e],
  [0x30, 0x39],
  [0xb7, 0xb7],
  [0x300, 0x36f],
  [0x203f, 0x2040],
];
const SPACE: readonly Range[] = [
  [0x9, 0xa],
  [0xd, 0xd],
  [0x20, 0x20],
];

/** Blocks of Unicode that patterns name, such as `\p{IsGreek}`. */
const BLOCKS: Readonly<Record<string, Range>> = {
  BasicLatin: [0x0, 0x7f],
  'Latin-1Supplement': [0x80, 0xff],
  'LatinExtended-A': [0x100, 0x17f],
  'LatinExtended-B': [0x180, 0x24f],
  IPAExtensions: [0x250, 0x2af],
  SpacingModifierLetters: [0x2b0, 0x2ff],
  CombiningDiacriticalMarks: [0x300, 0x36f],
  Greek: [0x370, 0x3ff],
  GreekandCoptic: [0x370, 0x3ff],
  Cyrillic: [0x400, 0x4ff],
  Armenian: [0x530, 0x58f],
  Hebrew: [0x590, 0x5ff],
  Arabic: [0x600, 0x6ff],
  Devanagari: [0x900, 0x97f],
  Bengali: [0x980, 0x9ff],
  Tamil: [0xb80, 0xbff],
  Thai: [0xe00, 0xe7f],
  Georgian: [0x10a0, 0x10ff],
  HangulJamo: [0x1100, 0x11ff],
  LatinExtendedAdditional: [0x1e00, 0x1eff],
  GreekExtended: [0x1f00, 0x1fff],
  GeneralPunctuation: [0x2000, 0x206f],
  CurrencySymbols: [0x20a0, 0x20cf],
  LetterlikeSymbols: [0x2100, 0x214f],
  NumberForms: [0x2150, 0x218f],
  Arrows: [0x2190, 0x21ff],
  MathematicalOperators: [0x2200, 0x22ff],
  BoxDrawing: [0x2500, 0x257f],
  GeometricShapes: [0x25a0, 0x25ff],
  MiscellaneousSymbols: [0x2600, 0x26ff],
  Dingbats: [0x2700, 0x27bf],
  CJKSymbolsandPunctuation: [0x3000, 0x303f],
  Hiragana: [0x3040, 0x309f],
  Katakana: [0x30a0, 0x30ff],
  CJKUnifiedIdeographs: [0x4e00, 0x9fff],
  HangulSyllables: [0xac00, 0xd7af],
};
const CATEGORY = /^(L[ultmo]?|M[nce]?|N[dlo]?|P[cdseifo]?|Z[slp]?|S[mcko]?|C[cfo]?)$/;

const hex = (n: number): string => `\\x{${n.toString(16)}}`;
const rangeText = ([from, to]: Range): string => (from === to ? hex(from) : `${hex(from)}-${hex(to)}`);
const rangesText = (ranges: readonly Range[]): string => ranges.map(rangeText).join('');

/** What these ranges leave out. */
function others(ranges: readonly Range[]): Range[] {
  const out: Range[] = [];
  let next = 0;
  for (const [from, to] of [...ranges].sort((a, b) => a[0] - b[0])) {
    if (from > next) out.push([next, from - 1]);
    next = Math.max(next, to + 1);
  }
  if (next <= LAST) out.push([next, LAST]);
  return out;
}

/** The pattern is none. */
class PatternError extends Error {}

const MULTI: Readonly<Record<string, string>> = {
  d: '\\p{Nd}',
  D: '\\P{Nd}',
  // All but punctuation, separators and the rest.
  w: '\\p{L}\\p{M}\\p{N}\\p{S}',
  W: '\\p{P}\\p{Z}\\p{C}',
  s: rangesText(SPACE),
  S: rangesText(others(SPACE)),
  i: rangesText(NAME_START),
  I: rangesText(others(NAME_START)),
  c: rangesText(NAME),
  C: rangesText(others(NAME)),
};
const SINGLE: Readonly<Record<string, string>> = { n: '\n', r: '\r', t: '\t' };

class Translation {
  private at = 0;
  private readonly dot: string;
  constructor(
    private readonly source: string,
    private readonly flags: string,
  ) {
    this.dot = flags.includes('s')
      ? `[${rangesText([[0, LAST]])}]`
      : `[^${rangesText([
          [0xa, 0xa],
          [0xd, 0xd],
        ])}]`;
  }

  whole(): string {
    let out = '';
    while (this.at < this.source.length) out += this.piece();
    return out;
  }

  private take(): string {
    const c = String.fromCodePoint(this.source.codePointAt(this.at)!);
    this.at += c.length;
    return c;
  }

  private piece(): string {
    const rest = this.source.slice(this.at);
    if (rest.startsWith('(?')) {
      if (!rest.startsWith('(?:')) throw new PatternError();
      this.at += 3;
      return '(?:';
    }
    const c = this.take();
    switch (c) {
      case '\\': {
        const e = this.escape();
        return e.length === 1 || e.codePointAt(0)! > 0xffff ? hex(e.codePointAt(0)!) : `[${e}]`;
      }
      case '[':
        return this.characters();
      case '.':
        return this.dot;
      case '{': {
        const times = /^\{\d+(,\d*)?\}/.exec(rest)?.[0];
        if (!times) throw new PatternError();
        this.at += times.length - 1;
        return times;
      }
      case ']':
      case '}':
        throw new PatternError();
      case '^':
      case '$':
      case '(':
      case ')':
      case '|':
      case '?':
      case '*':
      case '+':
        return c;
    }
    return this.flags.includes('x') && /[ \t\r\n]/.test(c) ? '' : hex(c.codePointAt(0)!);
  }

  /** What stands behind a backslash: one character, or what a class may hold for many. */
  private escape(): string {
    if (this.at >= this.source.length) throw new PatternError();
    const c = this.take();
    if (SINGLE[c]) return SINGLE[c];
    if (MULTI[c]) return MULTI[c];
    if (/[\\|.?*+(){}[\]^$-]/.test(c)) return c;
    if (c !== 'p' && c !== 'P') throw new PatternError();
    const name = /^\{([^}]*)\}/.exec(this.source.slice(this.at));
    if (!name) throw new PatternError();
    this.at += name[0].length;
    const block = name[1]!.startsWith('Is') ? BLOCKS[name[1]!.slice(2)] : undefined;
    if (block) return rangesText(c === 'p' ? [block] : others([block]));
    if (!CATEGORY.test(name[1]!)) throw new PatternError();
    return `\\${c}{${name[1]}}`;
  }

  /** A class of characters behind its bracket, and what another class in it takes away. */
  private characters(): string {
    const isNot = this.source[this.at] === '^';
    if (isNot) this.at++;
    let inside = '';
    for (let first = true; ; first = false) {
      if (this.at >= this.source.length) throw new PatternError();
      const rest = this.source.slice(this.at);
      if (rest.startsWith(']') && !first) {
        this.at++;
        return `[${isNot ? '^' : ''}${inside}]`;
      }
      if (rest.startsWith('-[') && !first) {
        this.at += 2;
        const without = this.characters();
        if (this.source[this.at] !== ']') throw new PatternError();
        this.at++;
        return difference(`[${isNot ? '^' : ''}${inside}]`, without);
      }
      inside += this.member(first);
    }
  }

  private member(first: boolean): string {
    const from = this.character(first);
    const isRange = this.source[this.at] === '-' && !/^-[[\]]/.test(this.source.slice(this.at));
    if (from.length > 2 || !isRange) return from.length > 2 ? from : hex(from.codePointAt(0)!);
    this.at++;
    const to = this.character(false);
    const range: Range = [from.codePointAt(0)!, to.codePointAt(0)!];
    if (to.length > 2 || range[0] > range[1]) throw new PatternError();
    return rangeText(range);
  }

  private character(first: boolean): string {
    const c = this.take();
    if (c === '\\') return this.escape();
    // A hyphen stands for itself only at either end.
    if (c === '[' || c === ']' || (c === '-' && !first && this.source[this.at] !== ']')) throw new PatternError();
    return c;
  }
}

/** The characters of one class that are not in another. There is no syntax for it, so they are looked for. */
function difference(all: string, without: string): string {
  const unicode = (set: string): RegExp => new RegExp(set.replaceAll('\\x{', '\\u{'), 'u');
  const [a, b] = [unicode(all), unicode(without)];
  const ranges: [number, number][] = [];
  for (let n = 0; n <= LAST; n++) {
    const c = String.fromCodePoint(n);
    if (!a.test(c) || b.test(c)) continue;
    const last = ranges.at(-1);
    if (last && last[1] === n - 1) last[1] = n;
    else ranges.push([n, n]);
  }
  return ranges.length ? `[${rangesText(ranges)}]` : `[^${rangesText([[0, LAST]])}]`;
}

/** A pattern by XPath’s rules as one for RE2, flags `s` and `x` worked in; null when it is none. */
export function xpathToRe2(source: string, flags: string): string | null {
  try {
    return new Translation(source, flags).whole();
  } catch (e) {
    if (e instanceof PatternError) return null;
    throw e;
  }
}
