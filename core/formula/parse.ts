import { FormulaError, type Node, type Test, type BinaryOperator } from './ast.ts';
import { isDeep, MOST_DEEP } from './depth.ts';
import { KeywordReader } from './keyword-reader.ts';
import type { NameIndex } from './name-index.ts';
import { parsing } from './parsing.ts';

/**
 * A parser for FEEL (OMG DMN 1.5, chapter 10). Names may hold spaces and signs, so it takes the names that
 * are known (fields, links, tables, parameters) and reads the longest that fits.
 */
export function parse(text: string, names: Iterable<string> | NameIndex = []): Node {
  const tree = new Parser(text, names).whole();
  if (text.length > MOST_DEEP && isDeep(tree))
    throw new FormulaError(
      'This formula is too long: more than several hundred steps follow on one another. Divide it into formula fields.',
      0,
      text.length,
    );
  return tree;
}

/** So deep brackets and the like may stand inside one another. */
const MOST_NESTED = 100;

class Parser extends KeywordReader {
  whole(): Node {
    if (this.at >= this.text.length) throw new FormulaError('The formula is empty.', 0, this.text.length);
    const node = this.expression();
    if (this.at < this.text.length) {
      const rest = /^\S+/.exec(this.text.slice(this.at))![0];
      throw this.error(
        `“${rest.slice(0, 30)}” was not expected here. Is a sign such as + or a comma missing before it?`,
        this.at,
        this.at + rest.length,
      );
    }
    return node;
  }

  private depth = 0;

  expression(): Node {
    if (++this.depth > MOST_NESTED)
      throw this.error(
        `More than ${MOST_NESTED} brackets or words such as if stand inside one another here. Divide it into formula fields.`,
      );
    const node = this.or();
    this.depth--;
    return node;
  }

  private or(): Node {
    let left = this.and();
    const from = left.from;
    while (this.word('or'))
      left = this.close(from, { t: 'binary', op: 'or' as BinaryOperator, left, right: this.and() }) as Node;
    return left;
  }

  private and(): Node {
    let left = this.comparison();
    const from = left.from;
    while (this.word('and'))
      left = this.close(from, { t: 'binary', op: 'and' as BinaryOperator, left, right: this.comparison() }) as Node;
    return left;
  }

  private comparison(): Node {
    let left = this.additive();
    const from = left.from;
    for (;;) {
      const op = (['<=', '>=', '!=', '<', '>', '='] as const).find((s) => this.text.startsWith(s, this.at));
      if (op) {
        this.sign(op);
        left = this.close(from, { t: 'binary', op, left, right: this.additive() }) as Node;
      } else if (this.word('between')) {
        const low = this.additive();
        this.need('and', 'as in “x between 1 and 5”');
        left = this.close(from, { t: 'between', of: left, low, high: this.additive() }) as Node;
      } else if (this.isWord('in')) {
        this.word('in');
        left = this.close(from, { t: 'in', of: left, tests: this.tests() }) as Node;
      } else if (this.isWord('instance')) {
        this.word('instance');
        this.need('of', 'as in “x instance of number”');
        left = this.close(from, { t: 'instance', of: left, type: this.typeName() }) as Node;
      } else return left;
    }
  }

  private tests(): Test[] {
    if (this.text[this.at] === '(') {
      const start = this.at;
      this.sign('(');
      // (1..5) and (1, 5] are ranges; (1, 2) and (< 3) are alternatives.
      const tests = [this.test()];
      if (tests[0]!.op === null && this.text.startsWith('..', this.at)) {
        this.at = start;
        return [{ op: null, to: this.additive() }];
      }
      while (this.sign(',')) tests.push(this.test());
      this.need(')', 'to close the list of alternatives');
      return tests;
    }
    return [this.test()];
  }

  private test(): Test {
    const op = (['<=', '>=', '!=', '<', '>', '='] as const).find((s) => this.text.startsWith(s, this.at)) ?? null;
    if (op) this.sign(op);
    return { op, to: this.additive() };
  }

  private additive(): Node {
    let left = this.multiplicative();
    const from = left.from;
    for (;;) {
      const op = this.text[this.at];
      if (op !== '+' && op !== '-') return left;
      this.sign(op);
      left = this.close(from, { t: 'binary', op: op as BinaryOperator, left, right: this.multiplicative() }) as Node;
    }
  }

  private multiplicative(): Node {
    let left = this.exponent();
    const from = left.from;
    for (;;) {
      const op = this.text[this.at];
      if ((op !== '*' && op !== '/') || this.text.startsWith('**', this.at)) return left;
      this.sign(op);
      left = this.close(from, { t: 'binary', op: op as BinaryOperator, left, right: this.exponent() }) as Node;
    }
  }

  private exponent(): Node {
    let left = this.unary();
    const from = left.from;
    while (this.sign('**'))
      left = this.close(from, { t: 'binary', op: '**' as BinaryOperator, left, right: this.unary() }) as Node;
    return left;
  }

  private unary(): Node {
    const from = this.at;
    if (this.text[this.at] === '-') {
      this.sign('-');
      if (++this.depth > MOST_NESTED) throw this.error('There are too many minus signs in a row here.');
      const of = this.unary();
      this.depth--;
      return this.close(from, { t: 'unary', of }) as Node;
    }
    return this.postfix();
  }

  private postfix(): Node {
    let node = this.primary();
    const from = node.from;
    for (;;) {
      if (this.text[this.at] === '.' && this.text[this.at + 1] !== '.') {
        this.sign('.');
        const nameFrom = this.at;
        const name = this.nameAt(true);
        if (name === null) throw this.error('A field name is missing behind the dot.');
        node = this.close(from, { t: 'path', of: node, name, nameFrom }) as Node;
      } else if (this.text[this.at] === '[') {
        const [back, depth] = [this.at, this.depth];
        try {
          this.sign('[');
          const by = this.expression();
          this.need(']', 'to close the condition');
          node = this.close(from, { t: 'filter', of: node, by }) as Node;
        } catch (e) {
          // The bracket that closes ]1..4[ looks like the beginning of a condition.
          if (!this.inRangeEnd || !(e instanceof FormulaError)) throw e;
          this.at = back;
          this.depth = depth;
          return node;
        }
      } else if (this.text[this.at] === '(') {
        node = this.invocation(node);
      } else return node;
    }
  }

  private invocation(of: Node): Node {
    this.sign('(');
    const args: Node[] = [];
    const named: string[] = [];
    if (!this.sign(')')) {
      do {
        const key = this.parameterName();
        if (key !== null) named.push(key);
        args.push(this.expression());
      } while (this.sign(','));
      this.need(')', 'to close the list of values for this function');
    }
    if (named.length && named.length !== args.length)
      throw this.error('Either all values given to a function are named, or none.', of.from, this.at);
    return this.close(of.from, { t: 'call', of, args, named: named.length ? named : null }) as Node;
  }

  private parameterName(): string | null {
    const m = /^([\p{L}_][\p{L}\p{N}_ ]*?)\s*:/u.exec(this.text.slice(this.at));
    if (!m) return null;
    this.at += m[0].length;
    this.skip();
    return m[1]!;
  }

  private primary(): Node {
    const from = this.at;
    const c = this.text[from];
    if (c === undefined)
      throw this.error('The formula ends too early: a value is missing.', Math.max(0, from - 1), from);
    if (c === '"') return this.close(from, { t: 'literal', value: this.string() }) as Node;
    if (c === '@') {
      this.at++;
      if (this.text[this.at] !== '"') throw this.error('A date in quotes is missing behind @.');
      return this.close(from, { t: 'at', text: this.string() }) as Node;
    }
    if (c === '{') return this.context();
    if (c === '[' || c === ']') return this.listOrRange();
    if (c === '(') return this.parenthesis();
    if (/[0-9.]/.test(c) && !this.startsKnown()) return this.number();
    if (/[<>=!]/.test(c)) return this.comparisonRange();
    for (const [word, value] of [
      ['true', true],
      ['false', false],
      ['null', null],
    ] as const) {
      if (!this.isName(word) && this.word(word)) return this.close(from, { t: 'literal', value }) as Node;
    }
    const word = (['if', 'for', 'some', 'every', 'function'] as const).find((w) => this.isWord(w));
    if (word && !this.isName(word)) {
      if (word === 'if') return this.conditional();
      if (word === 'for') return this.loop();
      return word === 'function' ? this.definition() : this.quantified();
    }
    const name = this.nameAt(false);
    if (name === null) {
      const rest = /^[^\s]+/.exec(this.text.slice(this.at))![0];
      throw this.error(
        `A value is missing before “${rest.slice(0, 20)}”.`,
        this.at,
        this.at + Math.min(rest.length, 20),
      );
    }
    return this.close(from, { t: 'name', name }) as Node;
  }

  private number(): Node {
    const from = this.at;
    const m = /^(?:\d+(?:\.(?!\.)\d+)?|\.\d+)(?:[eE][+-]?\d+)?/.exec(this.text.slice(from));
    if (!m) throw this.error('This is not a number.');
    this.at += m[0].length;
    this.skip();
    return this.close(from, { t: 'literal', value: Number(m[0]) }) as Node;
  }

  private context(): Node {
    const from = this.at;
    this.sign('{');
    const entries: { key: string; value: Node }[] = [];
    if (!this.sign('}')) {
      do {
        let key: string;
        if (this.text[this.at] === '"') key = this.string();
        else {
          const m = /^[^:"{}[\],]+/.exec(this.text.slice(this.at));
          if (!m || !m[0].trim()) throw this.error('The name of a context entry is missing here.');
          key = m[0].trim().replace(/\s+/g, ' ');
          this.at += m[0].length;
        }
        this.need(':', 'between the name and the value of a context entry');
        this.learn(key);
        entries.push({ key, value: this.expression() });
      } while (this.sign(','));
      this.need('}', 'to close the context');
    }
    return this.close(from, { t: 'context', entries }) as Node;
  }

  private listOrRange(): Node {
    const from = this.at;
    const open = this.text[from]!;
    this.sign(open);
    if (open === '[' && this.sign(']')) return this.close(from, { t: 'list', items: [] }) as Node;
    const first = this.expression();
    if (this.sign('..')) return this.rangeEnd(from, first, open === '[');
    if (open === ']') throw this.error('A range such as ]1..5] needs two dots.', from, this.at);
    const items = [first];
    while (this.sign(',')) items.push(this.expression());
    this.need(']', 'to close the list');
    return this.close(from, { t: 'list', items }) as Node;
  }

  private inRangeEnd = false;

  private rangeEnd(from: number, start: Node, startIncluded: boolean): Node {
    const outer = this.inRangeEnd;
    this.inRangeEnd = true;
    const end = this.expression();
    this.inRangeEnd = outer;
    const close = this.text[this.at];
    if (close !== ']' && close !== ')' && close !== '[') throw this.error('“]” or “)” is missing to close the range.');
    this.sign(close);
    return this.close(from, { t: 'range', start, end, startIncluded, endIncluded: close === ']' }) as Node;
  }

  /** `(< 5)` as a value is the open range up to 5. */
  private comparisonRange(): Node {
    const from = this.at;
    const op = (['<=', '>=', '!=', '<', '>', '='] as const).find((s) => this.text.startsWith(s, this.at));
    if (!op) throw this.error('A value is missing here.');
    this.sign(op);
    const value = this.additive();
    const none = { t: 'literal', value: null, from, to: from } as Node;
    const up = op === '>' || op === '>=';
    if (op === '!=') throw this.error('“!=” needs a value on its left.', from, this.at);
    const included = op !== '<' && op !== '>';
    return this.close(from, {
      t: 'range',
      start: up || op === '=' ? value : none,
      end: up ? none : value,
      startIncluded: up || op === '=' ? included : false,
      endIncluded: up ? false : included,
    }) as Node;
  }

  private parenthesis(): Node {
    const from = this.at;
    this.sign('(');
    const inner = this.expression();
    if (this.sign('..')) return this.rangeEnd(from, inner, false);
    this.need(')', 'to close the parenthesis');
    return { ...inner, from, to: this.closeAt(from) };
  }

  private closeAt(from: number): number {
    return this.close(from, {}).to;
  }
}

parsing.parse = (text) => parse(text);
