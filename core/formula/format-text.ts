import { FormulaError } from './ast.ts';
import { KEYWORDS } from './keywords.ts';
import { parse } from './parse.ts';

const WIDTH = 72;
const WORD = '[\\p{L}\\p{N}_?·\\p{M}]+';
const BINARY = new Set(['+', '-', '*', '/', '**', '=', '!=', '<', '<=', '>', '>=']);
/** Words between values; those that are values themselves, and “function”, are laid out like names. */
const VALUES = new Set(['true', 'false', 'null', 'function']);
const joins = (word: string): boolean => KEYWORDS.has(word) && !VALUES.has(word);
const OPENING = new Set(['(', '[', '{']);
const CLOSING = new Set([')', ']', '}']);

/**
 * A formula with even spaces, over several lines where it is long. What it means is never touched: when the result
 * does not read as the same formula, or the formula is broken, it comes back as it was.
 */
export function formatFormula(text: string, names: readonly string[] = []): string {
  const before = tree(text, names);
  if (!before) return text;
  const tokens = tokensOf(text, names);
  // A remark to the end of a line needs its line end; such formulas are left as their writer laid them out.
  if (tokens.some((t) => t.startsWith('//'))) return text;
  const out = lay(tokens, 0);
  return tree(out, names) === before ? out : text;
}

/** The tree without places, to compare by. */
function tree(text: string, names: readonly string[]): string | null {
  try {
    return JSON.stringify(parse(text, names), (key, value: unknown) =>
      key === 'from' || key === 'to' || key === 'nameFrom' ? undefined : value,
    );
  } catch (e) {
    if (e instanceof FormulaError) return null;
    throw e;
  }
}

function tokensOf(text: string, names: readonly string[]): string[] {
  const odd = names
    .filter((n) => /[^\p{L}\p{N}_]/u.test(n))
    .sort((a, b) => b.length - a.length)
    .map((n) => n.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const pattern = new RegExp(
    [
      '"(?:[^"\\\\]|\\\\.)*"',
      '//[^\\n]*',
      '/\\*[\\s\\S]*?\\*/',
      ...odd,
      '\\d+(?:\\.\\d+)?(?:[eE][+-]?\\d+)?',
      WORD,
      '\\*\\*|!=|<=|>=|\\.\\.|->',
      '\\S',
    ].join('|'),
    'gu',
  );
  const words: string[] = [];
  let end = -1;
  for (const m of text.matchAll(pattern)) {
    const last = words.at(-1);
    // Words of one name that is not known here stay together.
    if (last && m.index > end && isWord(last) && isWord(m[0]) && !joins(m[0]) && !joins(last.split(' ').at(-1)!))
      words[words.length - 1] = `${last} ${m[0]}`;
    else words.push(m[0]);
    end = m.index + m[0].length;
  }
  return words;
}

const isWord = (token: string): boolean => /^[\p{L}\p{N}_?]/u.test(token);

/** Tokens on one line. */
function line(tokens: readonly string[]): string {
  let out = '';
  tokens.forEach((t, i) => {
    const last = tokens[i - 1];
    out += last !== undefined && spaced(tokens, i) ? ` ${t}` : t;
  });
  return out;
}

function spaced(tokens: readonly string[], i: number): boolean {
  const t = tokens[i]!;
  const last = tokens[i - 1]!;
  if (
    t === ',' ||
    t === '.' ||
    last === '.' ||
    t === '..' ||
    last === '..' ||
    CLOSING.has(t) ||
    OPENING.has(last) ||
    last === '@'
  )
    return false;
  if (t === ':') return false;
  if (t === '(' || t === '[') return BINARY.has(last) || joins(last) || last === ',' || last === ':';
  if (BINARY.has(last) && isUnary(tokens, i - 1)) return false;
  return true;
}

/** A sign with nothing before it to work on. */
function isUnary(tokens: readonly string[], i: number): boolean {
  const last = tokens[i - 1];
  return last === undefined || BINARY.has(last) || joins(last) || OPENING.has(last) || last === ',' || last === ':';
}

/** Tokens over as many lines as they need: first divided by if, for and the words between conditions, then by commas. */
function lay(tokens: readonly string[], indent: number): string {
  const whole = line(tokens);
  if (whole.length + indent <= WIDTH) return whole;
  const pad = ' '.repeat(indent);
  const parts = divided(tokens, (t) => t === 'then' || t === 'else' || t === 'return' || t === 'satisfies');
  if (parts.length > 1)
    return parts.map((p, i) => (i === 0 ? lay(p, indent) : `${pad}  ${lay(p, indent + 2)}`)).join('\n');
  const terms = divided(tokens, (t) => t === 'and' || t === 'or');
  if (terms.length > 1)
    return terms.map((p, i) => (i === 0 ? lay(p, indent) : `${pad}  ${lay(p, indent + 2)}`)).join('\n');
  return bracketed(tokens, indent) ?? whole;
}

/** Parts that begin at tokens outside all brackets and outside inner ifs. */
function divided(tokens: readonly string[], begins: (t: string) => boolean): string[][] {
  const parts: string[][] = [[]];
  let depth = 0;
  let inner = 0;
  tokens.forEach((t, i) => {
    if (OPENING.has(t)) depth++;
    if (CLOSING.has(t)) depth--;
    if (depth === 0 && i > 0 && (t === 'if' || t === 'for')) inner++;
    if (depth === 0 && inner === 0 && i > 0 && begins(t)) parts.push([]);
    parts.at(-1)!.push(t);
  });
  return parts;
}

/** The longest brackets opened, one item a line. */
function bracketed(tokens: readonly string[], indent: number): string | null {
  let best = [0, 0];
  const open: number[] = [];
  tokens.forEach((t, i) => {
    if (OPENING.has(t)) open.push(i);
    if (!CLOSING.has(t)) return;
    const from = open.pop();
    if (from !== undefined && open.length === 0 && i - from > Math.max(1, best[1]! - best[0]!)) best = [from, i];
  });
  const [from, to] = best as [number, number];
  if (to === 0) return null;
  const inside = tokens.slice(from + 1, to);
  const items: string[][] = [[]];
  let depth = 0;
  for (const t of inside) {
    if (OPENING.has(t)) depth++;
    if (CLOSING.has(t)) depth--;
    items.at(-1)!.push(t);
    if (t === ',' && depth === 0) items.push([]);
  }
  const pad = ' '.repeat(indent + 2);
  const rest = tokens.slice(to);
  return `${line(tokens.slice(0, from + 1))}\n${items.map((p) => pad + lay(p, indent + 2)).join('\n')}\n${' '.repeat(indent)}${line(rest)}`;
}
