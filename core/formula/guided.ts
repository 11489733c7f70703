import { noConditions } from '../document/queries.ts';
import { CONDITION_OPS } from '../document/condition-ops.ts';
import type { Condition, Where } from '../document/pieces.ts';
import { FormulaError, type Node } from './ast.ts';
import { asTotalBy, TOTALS, totalByFormula, type Total, type TotalBy, type TotalOf } from './guided-total.ts';
import { parse } from './parse.ts';

/**
 * Formulas that read as a sentence. Each kind has one shape in FEEL, so a sentence can be opened as a formula and a
 * formula of that shape as a sentence. All values are stored formulas (FEEL with ids).
 */
export type Sentence =
  /** A field of a linked record: `Keeper.Mail`. */
  | { kind: 'bring'; path: string }
  | TotalOf
  | TotalBy
  /** The values of many records as one text: `string join(Visits.Notes, ", ")`. */
  | { kind: 'join'; list: string; field: string; separator: string }
  /** `if … then … else …` */
  | { kind: 'choose'; when: Where; then: string; otherwise: string }
  /** The time from one date to another, counted in whole units. */
  | { kind: 'since'; from: string; until: string; unit: SinceUnit }
  /** `part / whole * 100`, rounded. */
  | { kind: 'percent'; part: string; whole: string; places: number }
  /** Two values with a sign between them: `Amount * Price`. */
  | { kind: 'calculate'; left: string; sign: Sign; right: string }
  /** A value less or more by so many percent: `Price * (1 - Discount / 100)`. */
  | { kind: 'by percent'; of: string; way: 'less' | 'more'; percent: string }
  /** The record with the lowest or highest value of a field. */
  | { kind: 'best'; how: 'min' | 'max'; list: string; field: string }
  /** The place of a record among many: `count(all Hives[Weight > this hive.Weight]) + 1`. */
  | { kind: 'rank'; first: 'highest' | 'lowest'; list: string; field: string; of: string }
  /** Words with values between them: `string join(["Fed ", string(Fed), " litres"], "")`. */
  | { kind: 'words'; parts: WordPart[] }
  /** A text made even. */
  | { kind: 'tidy'; how: Tidying; path: string };

/** A piece of words: plain text, or a value. */
export type WordPart = { text: string } | { value: string };
export type Tidying = 'trim' | 'spaces' | 'upper' | 'lower' | 'capital';

export type Sign = '*' | '+' | '-' | '/';
export const SIGNS: readonly Sign[] = ['*', '+', '-', '/'];
export type SinceUnit = 'days' | 'hours' | 'minutes' | 'months' | 'years';
const UNITS = { hours: 'PT1H', minutes: 'PT1M' } as const;
const CALENDAR_UNITS = { months: 'P1M', years: 'P1Y' } as const;

const OPERATORS = { is: '=', 'is not': '!=', over: '>', under: '<', 'at least': '>=', 'at most': '<=' } as const;
/** The comparisons a guided condition can have; each has one operator in FEEL. */
export const GUIDED_OPS: readonly Condition['op'][] = CONDITION_OPS;

/** The formula of a sentence; null while a place of it is not filled in. */
export function toFormula(s: Sentence): string | null {
  switch (s.kind) {
    case 'bring':
      return s.path || null;
    case 'total': {
      const where = conditionsText(s.where);
      if (!s.list || where === null || (s.how !== 'count' && !s.field)) return null;
      const list = where ? `${s.list}[${where}]` : s.list;
      return s.how === 'count' ? `count(${list})` : `${s.how}(${list}.${s.field})`;
    }
    case 'total by':
      return totalByFormula(s);
    case 'join':
      return s.list && s.field ? `string join(${s.list}.${s.field}, ${JSON.stringify(s.separator)})` : null;
    case 'choose': {
      const when = conditionsText(s.when);
      return when && s.then && s.otherwise ? `if ${when} then ${s.then} else ${s.otherwise}` : null;
    }
    case 'since': {
      if (!s.from || !s.until) return null;
      if (s.unit === 'days') return `(${s.until} - ${s.from}).days`;
      return s.unit === 'months' || s.unit === 'years'
        ? `floor(years and months duration(${s.from}, ${s.until}) / duration("${CALENDAR_UNITS[s.unit]}"))`
        : `floor((${s.until} - ${s.from}) / duration("${UNITS[s.unit]}"))`;
    }
    case 'percent':
      return s.part && s.whole ? `round half up(${s.part} / ${s.whole} * 100, ${s.places})` : null;
    case 'calculate':
      return s.left && s.right ? `${s.left} ${s.sign} ${s.right}` : null;
    case 'by percent':
      return s.of && s.percent ? `${s.of} * (1 ${s.way === 'less' ? '-' : '+'} ${s.percent} / 100)` : null;
    case 'best':
      return s.list && s.field ? `${s.list}[${s.field} = ${s.how}(${s.list}.${s.field})][1]` : null;
    case 'rank':
      return s.list && s.field && s.of
        ? `count(${s.list}[${s.field} ${s.first === 'highest' ? '>' : '<'} ${s.of}]) + 1`
        : null;
    case 'words': {
      if (s.parts.length === 0 || s.parts.some((p) => 'value' in p && !p.value)) return null;
      return `string join([${s.parts.map((p) => ('text' in p ? JSON.stringify(p.text) : `string(${p.value})`)).join(', ')}], "")`;
    }
    case 'tidy':
      return s.path ? TIDY[s.how](s.path) : null;
  }
}

const TIDY: Record<Tidying, (path: string) => string> = {
  trim: (p) => `trim(${p})`,
  spaces: (p) => `replace(trim(${p}), "\\\\s+", " ")`,
  upper: (p) => `upper case(${p})`,
  lower: (p) => `lower case(${p})`,
  capital: (p) => `upper case(substring(${p}, 1, 1)) + substring(${p}, 2)`,
};

/** Conditions as FEEL; empty text for none, null when one is not filled in. */
function conditionsText(where: Where): string | null {
  const parts: string[] = [];
  for (const c of where.conditions) {
    if (!c.left) return null;
    if (c.op === 'is empty') parts.push(`${c.left} = null`);
    else if (c.op === 'is filled') parts.push(`${c.left} != null`);
    else if (c.op === 'holds') parts.push(c.left);
    else if (!c.right) return null;
    else if (c.op === 'contains') parts.push(`contains(${c.left}, ${c.right})`);
    else parts.push(`${c.left} ${OPERATORS[c.op]} ${c.right}`);
  }
  return parts.join(where.match === 'all' ? ' and ' : ' or ');
}

/** A yes or no formula as the conditions it is made of; null when it has another shape. */
export function whereOf(formula: string): Where | null {
  try {
    return conditions(parse(formula), (n) => formula.slice(n.from, n.to));
  } catch (e) {
    if (e instanceof FormulaError) return null;
    throw e;
  }
}

/** Conditions as a formula: empty for none, null while a place of one is not filled in or they have groups. */
export const whereText = (where: Where): string | null => (where.groups?.length ? null : conditionsText(where));

/** The sentence of a formula, or null when it has the shape of none. */
export function toSentence(formula: string): Sentence | null {
  let tree: Node;
  try {
    tree = parse(formula);
  } catch (e) {
    if (e instanceof FormulaError) return null;
    throw e;
  }
  const text = (n: Node): string => formula.slice(n.from, n.to);
  return read(tree, text);
}

type Text = (n: Node) => string;

/** A name, or names joined by dots. */
const isPath = (n: Node): boolean => n.t === 'name' || (n.t === 'path' && isPath(n.of));

/** What may stand in a place for a value: a path or something plain. */
const isValue = (n: Node): boolean =>
  isPath(n) ||
  n.t === 'literal' ||
  n.t === 'at' ||
  (n.t === 'unary' && n.of.t === 'literal') ||
  (n.t === 'call' && n.args.length === 0);

function read(n: Node, text: Text): Sentence | null {
  if (n.t === 'path' && isPath(n)) return { kind: 'bring', path: text(n) };
  if (n.t === 'if') {
    const when = conditions(n.test, text);
    return when && isValue(n.then) && isValue(n.otherwise)
      ? { kind: 'choose', when, then: text(n.then), otherwise: text(n.otherwise) }
      : null;
  }
  if (n.t === 'path' && n.name === 'days') return since(n.of, 'days', text);
  if (n.t === 'filter') return best(n, text);
  if (n.t === 'binary') return rank(n, text) ?? tidy(n, text) ?? byPercent(n, text) ?? calculation(n, text);
  if (n.t !== 'call' || n.of.t !== 'name' || n.named) return null;
  const [first, second] = n.args;
  const name = n.of.name;
  const words = name === 'string join' ? wordParts(n, text) : null;
  if (words) return words;
  const tidied = tidy(n, text);
  if (tidied) return tidied;
  if (first && n.args.length === 1 && (TOTALS as readonly string[]).includes(name))
    return total(name as Total, first, text);
  if (
    name === 'string join' &&
    first?.t === 'path' &&
    isPath(first) &&
    second?.t === 'literal' &&
    typeof second.value === 'string'
  ) {
    return { kind: 'join', list: text(first.of), field: first.name, separator: second.value };
  }
  if (name === 'floor' && first?.t === 'binary' && first.op === '/' && n.args.length === 1) {
    const calendar = (['months', 'years'] as const).find(
      (u) => text(first.right) === `duration("${CALENDAR_UNITS[u]}")`,
    );
    if (calendar) return calendarSince(first.left, calendar, text);
    const unit = (Object.keys(UNITS) as (keyof typeof UNITS)[]).find(
      (u) => text(first.right) === `duration("${UNITS[u]}")`,
    );
    return unit ? since(first.left, unit, text) : null;
  }
  if (
    name === 'round half up' &&
    first?.t === 'binary' &&
    first.op === '*' &&
    text(first.right) === '100' &&
    first.left.t === 'binary' &&
    first.left.op === '/' &&
    isValue(first.left.left) &&
    isValue(first.left.right) &&
    second?.t === 'literal' &&
    typeof second.value === 'number'
  ) {
    return { kind: 'percent', part: text(first.left.left), whole: text(first.left.right), places: second.value };
  }
  return null;
}

function total(how: Total, of: Node, text: Text): Sentence | null {
  const field = how === 'count' ? '' : of.t === 'path' ? of.name : null;
  const list = how === 'count' ? of : of.t === 'path' ? of.of : null;
  if (field === null || !list) return null;
  if (isPath(list)) return asTotalBy({ kind: 'total', how, list: text(list), field, where: noConditions() });
  if (list.t !== 'filter' || !isPath(list.of)) return null;
  const where = conditions(list.by, text);
  return where && asTotalBy({ kind: 'total', how, list: text(list.of), field, where });
}

function since(n: Node, unit: SinceUnit, text: Text): Sentence | null {
  if (n.t !== 'binary' || n.op !== '-') return null;
  return isDateLike(n.left) && isDateLike(n.right)
    ? { kind: 'since', from: text(n.right), until: text(n.left), unit }
    : null;
}

/** What a date may be given as: a value, or a function of one. */
const isDateLike = (x: Node): boolean => isValue(x) || (x.t === 'call' && x.args.length === 1 && isPath(x.args[0]!));

function calendarSince(n: Node, unit: 'months' | 'years', text: Text): Sentence | null {
  if (n.t !== 'call' || n.named || text(n.of) !== 'years and months duration') return null;
  const [from, until] = n.args;
  return n.args.length === 2 && isDateLike(from!) && isDateLike(until!)
    ? { kind: 'since', from: text(from!), until: text(until!), unit }
    : null;
}

/** A number that may stand in a calculation: a path or a plain number. */
const isNumber = (n: Node): boolean => isPath(n) || (n.t === 'literal' && typeof n.value === 'number');

function calculation(n: Node & { t: 'binary' }, text: Text): Sentence | null {
  const sign = SIGNS.find((s) => s === n.op);
  return sign && isNumber(n.left) && isNumber(n.right)
    ? { kind: 'calculate', left: text(n.left), sign, right: text(n.right) }
    : null;
}

function byPercent(n: Node & { t: 'binary' }, text: Text): Sentence | null {
  const { left, right } = n;
  if (n.op !== '*' || !isNumber(left) || right.t !== 'binary' || (right.op !== '-' && right.op !== '+')) return null;
  const [one, share] = [right.left, right.right];
  if (one.t !== 'literal' || one.value !== 1 || share.t !== 'binary' || share.op !== '/') return null;
  if (share.right.t !== 'literal' || share.right.value !== 100 || !isNumber(share.left)) return null;
  return { kind: 'by percent', of: text(left), way: right.op === '-' ? 'less' : 'more', percent: text(share.left) };
}

function rank(n: Node & { t: 'binary' }, text: Text): Sentence | null {
  const { left, right } = n;
  if (n.op !== '+' || !(right.t === 'literal' && right.value === 1) || left.t !== 'call' || text(left.of) !== 'count')
    return null;
  const [of] = left.args;
  if (of?.t !== 'filter' || left.args.length !== 1 || !isPath(of.of)) return null;
  const { by } = of;
  if (by.t !== 'binary' || (by.op !== '>' && by.op !== '<') || by.left.t !== 'name' || !isPath(by.right)) return null;
  const first = by.op === '>' ? 'highest' : 'lowest';
  return { kind: 'rank', first, list: text(of.of), field: by.left.name, of: text(by.right) };
}

function wordParts(n: Node & { t: 'call' }, text: Text): Sentence | null {
  const [list, between] = n.args;
  if (list?.t !== 'list' || between?.t !== 'literal' || between.value !== '' || list.items.length === 0) return null;
  const parts: WordPart[] = [];
  for (const item of list.items) {
    if (item.t === 'literal' && typeof item.value === 'string') parts.push({ text: item.value });
    else if (
      item.t === 'call' &&
      !item.named &&
      text(item.of) === 'string' &&
      item.args.length === 1 &&
      isValue(item.args[0]!)
    )
      parts.push({ value: text(item.args[0]!) });
    else return null;
  }
  return { kind: 'words', parts };
}

/** A text made even: the first path in the formula, when the formula is what one of the ways makes of it. */
function tidy(n: Node, text: Text): Sentence | null {
  const path = firstPath(n, text);
  const how = path && (Object.keys(TIDY) as Tidying[]).find((h) => TIDY[h](path) === text(n));
  return how ? { kind: 'tidy', how, path } : null;
}

function firstPath(n: Node, text: Text): string | null {
  if (isPath(n)) return text(n);
  if (n.t === 'call') return n.args[0] ? firstPath(n.args[0], text) : null;
  return n.t === 'binary' ? firstPath(n.left, text) : null;
}

function best(n: Node & { t: 'filter' }, text: Text): Sentence | null {
  const inner = n.of;
  if (!(n.by.t === 'literal' && n.by.value === 1) || inner.t !== 'filter' || !isPath(inner.of)) return null;
  const { by } = inner;
  if (by.t !== 'binary' || by.op !== '=' || by.left.t !== 'name' || by.right.t !== 'call') return null;
  const how = text(by.right.of);
  const field = by.left.name;
  const list = text(inner.of);
  return (how === 'min' || how === 'max') && text(by.right.args[0]!) === `${list}.${field}`
    ? { kind: 'best', how, list, field }
    : null;
}

function conditions(n: Node, text: Text): Where | null {
  const match = n.t === 'binary' && n.op === 'or' ? 'any' : 'all';
  const join = match === 'any' ? 'or' : 'and';
  const parts: Node[] = [];
  const flatten = (x: Node): void => {
    if (x.t === 'binary' && x.op === join && !text(x).startsWith('(')) {
      flatten(x.left);
      flatten(x.right);
    } else parts.push(x);
  };
  flatten(n);
  const out: Condition[] = [];
  for (const p of parts) {
    const c = condition(p, text);
    if (!c) return null;
    out.push(c);
  }
  return { match, conditions: out };
}

function condition(n: Node, text: Text): Condition | null {
  if (isPath(n)) return { left: text(n), op: 'holds', right: '' };
  // What is not so: a yes or no that is no.
  if (n.t === 'call' && !n.named && text(n.of) === 'not' && n.args.length === 1 && isPath(n.args[0]!))
    return { left: text(n.args[0]!), op: 'is', right: 'false' };
  if (n.t === 'call' && !n.named && text(n.of) === 'contains' && n.args.length === 2) {
    const [left, right] = n.args;
    return isPath(left!) && isValue(right!) ? { left: text(left!), op: 'contains', right: text(right!) } : null;
  }
  if (n.t !== 'binary' || !isPath(n.left) || !isValue(n.right)) return null;
  const none = n.right.t === 'literal' && n.right.value === null;
  if (none && n.op === '=') return { left: text(n.left), op: 'is empty', right: '' };
  if (none && n.op === '!=') return { left: text(n.left), op: 'is filled', right: '' };
  const op = (Object.keys(OPERATORS) as (keyof typeof OPERATORS)[]).find((k) => OPERATORS[k] === n.op);
  return op ? { left: text(n.left), op, right: text(n.right) } : null;
}
