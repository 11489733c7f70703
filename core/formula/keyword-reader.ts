import type { Loop, Node } from './ast.ts';
import { Reader } from './reader.ts';

const TYPE_NAMES = [
  'days and time duration',
  'day time duration',
  'years and months duration',
  'year month duration',
  'date and time',
  'dateTime',
  'date',
  'time',
  'number',
  'string',
  'boolean',
  'list',
  'context',
  'function',
  'range',
  'Any',
  'Null',
];

/** What begins with a word of the language: choices, loops, tests of all or some, functions; and the names of types. */
export abstract class KeywordReader extends Reader {
  abstract expression(): Node;

  protected typeName(): string {
    const from = this.at;
    const name = TYPE_NAMES.find((n) => this.isWord(n));
    if (!name) throw this.error('A type is missing here, such as number, string or date.');
    this.word(name);
    let full = name;
    if (this.text[this.at] === '<') {
      this.sign('<');
      const inner: string[] = [];
      while (!this.sign('>')) {
        const key = /^[\p{L}_][\p{L}\p{N}_ ]*:/u.exec(this.text.slice(this.at))?.[0];
        if (key) {
          this.at += key.length;
          this.skip();
        }
        inner.push((key ?? '') + this.typeName());
        if (!this.sign(',') && this.text[this.at] !== '>') throw this.error('“>” is missing to close this type.', from);
      }
      full += `<${inner.join(', ')}>`;
      if (name === 'function' && this.sign('->')) full += `->${this.typeName()}`;
    }
    return full;
  }

  protected conditional(): Node {
    const from = this.at;
    this.word('if');
    const test = this.expression();
    this.need('then', 'as in “if … then … else …”');
    const then = this.expression();
    this.need('else', 'as in “if … then … else …”');
    return this.close(from, { t: 'if', test, then, otherwise: this.expression() }) as Node;
  }

  private loops(): Loop[] {
    const loops: Loop[] = [];
    do {
      const m = /^([\p{L}_][\p{L}\p{N}_ ]*?)\s+in\b/u.exec(this.text.slice(this.at));
      if (!m) throw this.error('A name and “in” are missing here, as in “for each in list”.');
      this.at += m[1]!.length;
      this.skip();
      this.need('in', 'as in “x in list”');
      this.learn(m[1]!);
      const over = this.expression();
      loops.push({ name: m[1]!, over, upTo: this.sign('..') ? this.expression() : null });
    } while (this.sign(','));
    return loops;
  }

  protected loop(): Node {
    const from = this.at;
    this.word('for');
    const loops = this.loops();
    this.need('return', 'as in “for x in list return …”');
    return this.close(from, { t: 'for', loops, body: this.expression() }) as Node;
  }

  protected quantified(): Node {
    const from = this.at;
    const every = this.isWord('every');
    this.word(every ? 'every' : 'some');
    const loops = this.loops();
    this.need('satisfies', 'as in “some x in list satisfies …”');
    return this.close(from, { t: 'quantified', every, loops, body: this.expression() }) as Node;
  }

  protected definition(): Node {
    const from = this.at;
    this.word('function');
    this.need('(', 'as in “function(a, b) a + b”');
    const params: string[] = [];
    if (!this.sign(')')) {
      do {
        const m = /^[\p{L}_][\p{L}\p{N}_ ]*/u.exec(this.text.slice(this.at));
        if (!m) throw this.error('The name of a parameter is missing here.');
        this.at += m[0].length;
        this.skip();
        const name = m[0].trim();
        this.learn(name);
        params.push(name);
        if (this.sign(':')) this.typeName();
      } while (this.sign(','));
      this.need(')', 'to close the parameters');
    }
    return this.close(from, { t: 'function', params, body: this.expression() }) as Node;
  }
}
