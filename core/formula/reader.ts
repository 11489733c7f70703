import { FormulaError } from './ast.ts';
import { builtinNames } from './builtins/index.ts';
import { KEYWORDS } from './keywords.ts';
import { NameIndex } from './name-index.ts';

const longestFirst = (a: string, b: string): number => b.length - a.length;

const NAME_START = /[\p{L}_?]/u;
const NAME_PART = /[\p{L}\p{N}_?·\p{M}]/u;

let calls: readonly string[] | null = null;
/** The functions whose names have several words, longest first. */
const callsOfSeveralWords = (): readonly string[] =>
  (calls ??= builtinNames()
    .filter((n) => n.includes(' '))
    .sort(longestFirst));

/** Reads the small things of a formula: white space, words, signs, texts, and names that may hold spaces. */
export class Reader {
  protected at = 0;
  /** The names that are known, and those that the formula makes itself. */
  protected readonly known: NameIndex;
  protected readonly calls = callsOfSeveralWords();

  constructor(
    protected readonly text: string,
    names: Iterable<string> | NameIndex,
  ) {
    this.known = names instanceof NameIndex ? new NameIndex([], names) : new NameIndex(names);
    this.skip();
  }

  protected learn(name: string): void {
    this.known.add(name);
  }

  protected error(message: string, from = this.at, to = Math.min(this.text.length, from + 1)): FormulaError {
    return new FormulaError(message, from, to);
  }

  protected skip(): void {
    for (;;) {
      const c = this.text[this.at];
      if (c !== undefined && /\s/.test(c)) this.at++;
      else if (this.text.startsWith('//', this.at)) {
        const end = this.text.indexOf('\n', this.at);
        this.at = end < 0 ? this.text.length : end;
      } else if (this.text.startsWith('/*', this.at)) {
        const end = this.text.indexOf('*/', this.at + 2);
        if (end < 0) throw this.error('This comment is never closed with */.', this.at, this.text.length);
        this.at = end + 2;
      } else return;
    }
  }

  protected isWord(word: string): boolean {
    if (!this.text.startsWith(word, this.at)) return false;
    const next = this.text[this.at + word.length];
    return next === undefined || !NAME_PART.test(next);
  }

  protected word(word: string): boolean {
    if (!this.isWord(word)) return false;
    this.at += word.length;
    this.skip();
    return true;
  }

  protected sign(sign: string): boolean {
    if (!this.text.startsWith(sign, this.at)) return false;
    this.at += sign.length;
    this.skip();
    return true;
  }

  protected need(sign: string, why: string): void {
    if (/\w/.test(sign) ? this.word(sign) : this.sign(sign)) return;
    const rest = this.text.slice(this.at).trim();
    throw this.error(
      rest ? `“${sign}” is missing here, ${why}.` : `The formula ends too early: “${sign}” is missing, ${why}.`,
    );
  }

  /** Ends a node at the last character read, without the white space behind it. */
  protected close<N extends object>(from: number, node: N): N & { from: number; to: number } {
    let to = this.at;
    while (to > from && /\s/.test(this.text[to - 1]!)) to--;
    return { ...node, from, to };
  }

  /** Reads the longest known name, a function name of several words, or a run of plain words. */
  protected nameAt(inPath: boolean): string | null {
    for (const name of this.knownHere()) {
      if (!inPath && KEYWORDS.has(name)) continue;
      if (!inPath && this.calls.some((call) => call.length > name.length && this.startsCall(call))) continue;
      this.at += name.length;
      this.skip();
      return name;
    }
    if (inPath) {
      const two = ['time offset', 'start included', 'end included'].find((n) => this.isWord(n));
      if (two) {
        this.word(two);
        return two;
      }
    } else {
      const call = this.calls.find((n) => this.startsCall(n));
      if (call) {
        this.at += call.length;
        this.skip();
        return call;
      }
    }
    const first = this.plainWord();
    if (first === null) return null;
    if (!inPath && KEYWORDS.has(first.trim())) {
      this.at -= first.length;
      return null;
    }
    let name = first;
    this.skip();
    // An unknown name of several words is read as one, so that its problem names it whole.
    for (;;) {
      const back = this.at;
      const next = this.plainWord();
      if (next === null || KEYWORDS.has(next)) {
        this.at = back;
        break;
      }
      name += ` ${next}`;
      this.skip();
    }
    return name;
  }

  protected startsCall(name: string): boolean {
    return (
      this.text.startsWith(name, this.at) &&
      /^\s*\(/.test(this.text.slice(this.at + name.length, this.at + name.length + 20))
    );
  }

  protected plainWord(): string | null {
    let i = this.at;
    if (i >= this.text.length || !NAME_START.test(this.text[i]!)) return null;
    while (i < this.text.length && NAME_PART.test(this.text[i]!)) i++;
    const word = this.text.slice(this.at, i);
    this.at = i;
    return word;
  }

  /** A name that begins with a digit, such as the column “2024 yield”. */
  protected startsKnown(): boolean {
    return this.knownHere().some((n) => /[^\d.]/.test(n));
  }

  /** The known names that stand here and do not end within a word, longest first. */
  private knownHere(): string[] {
    return this.known.at(this.text, this.at).filter((name) => {
      const next = this.text[this.at + name.length];
      return next === undefined || !NAME_PART.test(next) || !NAME_PART.test(name[name.length - 1]!);
    });
  }

  /**
   * Does a known name stand here that begins with this word of the language, such as “for sale” or “if needed”? Where
   * what follows it can only be the word’s own, it is the word: in “if needed then …” the name is “needed”.
   */
  protected isName(word: string): boolean {
    return this.knownHere().some((name) => {
      if (!name.startsWith(`${word} `)) return false;
      const rest = this.text.slice(this.at + name.length).trimStart();
      if (word === 'if') return !/^then(?![\p{L}\p{N}_])/u.test(rest);
      if (word === 'function') return !rest.startsWith('(');
      return !/^in(?![\p{L}\p{N}_])/u.test(rest);
    });
  }

  protected string(): string {
    const from = this.at;
    let out = '';
    this.at++;
    for (;;) {
      const c = this.text[this.at];
      if (c === undefined) throw this.error('This text is never closed with a quotation mark.', from, this.text.length);
      if (c === '"') break;
      if (c === '\\') {
        const m = /^\\(?:u([0-9a-fA-F]{4})|U([0-9a-fA-F]{6})|(["'\\nrt]))/.exec(this.text.slice(this.at, this.at + 8));
        if (m) {
          out += m[3]
            ? ({ n: '\n', r: '\r', t: '\t' }[m[3]] ?? m[3])
            : String.fromCodePoint(parseInt((m[1] ?? m[2])!, 16));
          this.at += m[0].length;
          continue;
        }
      }
      out += c;
      this.at++;
    }
    this.at++;
    this.skip();
    return out;
  }
}
