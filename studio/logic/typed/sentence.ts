import type { Step } from '../../../core/app/schema.ts';
import { copyOf } from '../../../core/document/copy.ts';
import { withTurn, tableAt, type Hand, type Told } from './hand.ts';
import { recordClause } from './record-clauses.ts';
import { recordsIn } from './records.ts';
import { saidClause } from './said-clauses.ts';
import { screenClause } from './screen-clauses.ts';

/** Every place where one clause may end and the next begin, outside quotation marks. */
const BETWEEN = /\s*(?:[;,.]\s*(?:and then|then|and)?|\band then|\bthen|\band)\s+/gi;

/** Reads one clause whole by whatever kind of step takes it. */
function clause(words: string, hand: Hand): Step[] | null {
  const { work } = hand;
  const key = `${hand.it?.stored ?? ''} ${words}`;
  const known = work.read.get(key);
  // What is said twice is two steps, each with an id of its own.
  if (known !== undefined) return known && known.map((s) => copyOf(s, hand.make.id));
  if (work.left-- <= 0) return null;
  const found = screenClause(words, hand) ?? recordClause(words, hand) ?? saidClause(words, hand);
  work.read.set(key, found);
  return found;
}

/**
 * The steps that a sentence means, each of its words accounted for; null when it cannot be told. Where it can be read
 * as several steps it is, rather than as one with many words.
 */
export function sentence(typed: string, hand: Hand, depth = 0): Step[] | null {
  const text = typed
    .trim()
    .replace(/[.,;]$/, '')
    .trim();
  if (!text || depth > MOST_CLAUSES) return null;
  const head = flow(text, hand, depth);
  if (head) return head;
  for (const { from, to } of cuts(text)) {
    const first = clause(text.slice(0, from), hand);
    const rest = first && sentence(text.slice(to), hand, depth + 1);
    if (rest) return [...first, ...rest];
  }
  return clause(text, hand);
}
/** What is longer is no sentence that somebody types. */
const MOST_CLAUSES = 12;

/** Where a sentence may be cut, from the left. */
function cuts(text: string): { from: number; to: number }[] {
  const quotes = [...text.matchAll(/["“][^"”]*["”]/g)].map((m) => [m.index, m.index + m[0].length] as const);
  return [...text.matchAll(BETWEEN)]
    .map((m) => ({ from: m.index, to: m.index + m[0].length }))
    .filter((c) => c.from > 0 && !quotes.some(([a, b]) => c.from > a && c.from < b));
}

const IF = /^(if|when|whenever|unless)\s+/i;
const EACH = /^(?:for (?=each\b|every\b|all\b)|for each of\s+|loop (?:through|over)\s+|go through\s+)/i;
const REPEAT = /^(?:repeat )?while\s+/i;
const UNTIL = /^(?:wait|hold) until\s+/i;

/** What holds other steps: a condition, a loop. */
function flow(text: string, hand: Hand, depth: number): Step[] | null {
  const when = IF.exec(text);
  if (when) return condition(text.slice(when[0].length), /^unless/i.test(when[1]!), hand, depth);
  const each = EACH.exec(text);
  if (each) return loop(text.slice(each[0].length).replace(/^of\s+/i, ''), hand, depth);
  const repeat = REPEAT.exec(text);
  if (repeat) {
    return headed(text.slice(repeat[0].length), hand, depth, (told, steps) => [
      hand.make.step('repeat', { when: told, steps: steps ?? [] }),
    ]);
  }
  const last = trailing(text, hand, depth);
  if (last) return last;
  const until = UNTIL.exec(text);
  const held = until && hand.conditions(text.slice(until[0].length), hand);
  if (held) return [hand.make.step('hold', { when: held })];
  return null;
}

/** “mail the supplier if quantity is 0”: a condition behind what it is about. */
function trailing(text: string, hand: Hand, depth: number): Step[] | null {
  const quotes = /["“”]/.test(text);
  const m = quotes ? null : /^(.+?),?\s+(if|when|unless)\s+(.+)$/i.exec(text);
  const told = m && hand.conditions(m[3]!, hand);
  const when = told && (/^unless/i.test(m[2]!) ? opposite(told) : told);
  const then = when && sentence(m[1]!, hand, depth + 1);
  return then && [hand.make.step('if', { when, then, otherwise: [] })];
}

/** Every way to cut a head off what follows it, the shortest head first. */
function* headsOf(text: string): Generator<[head: string, rest: string]> {
  const at = cuts(text);
  for (const { from, to } of at) yield [text.slice(0, from), text.slice(to)];
  for (const m of text.matchAll(/\s+/g))
    if (!at.some((c) => m.index >= c.from && m.index < c.to))
      yield [text.slice(0, m.index), text.slice(m.index + m[0].length)];
}

/** A head that is a condition, and the steps after it. */
function headed<T>(text: string, hand: Hand, depth: number, make: (told: Told, steps: Step[] | null) => T): T | null {
  const alone = hand.conditions(text, hand);
  if (alone) return make(alone, null);
  for (const [head, rest] of headsOf(text)) {
    const told = hand.conditions(head, hand);
    const steps = told && sentence(rest.replace(/^then\s+/i, ''), hand, depth + 1);
    if (steps) return make(told, steps);
  }
  return null;
}

const OTHERWISE = /\s*[,;.]?\s*\b(?:otherwise|else|if not)\b,?\s+/i;

function condition(text: string, unless: boolean, hand: Hand, depth: number): Step[] | null {
  const cut = OTHERWISE.exec(text);
  const otherwise = cut ? sentence(text.slice(cut.index + cut[0].length), hand, depth + 1) : [];
  if (!otherwise) return null;
  return headed(cut ? text.slice(0, cut.index) : text, hand, depth, (told, steps) => {
    const when = unless ? opposite(told) : told;
    return when && [hand.make.step('if', { when, then: steps ?? [], otherwise })];
  });
}

/** “unless seats is 0”: the one condition turned round; null where it is more than one. */
function opposite({ conditions }: Told): Told | null {
  const [only] = conditions;
  const op = only && OPPOSITE[only.op as keyof typeof OPPOSITE];
  return op && conditions.length === 1 ? { match: 'all', conditions: [{ ...only, op }] } : null;
}
const OPPOSITE = {
  is: 'is not',
  'is not': 'is',
  over: 'at most',
  under: 'at least',
  'at least': 'under',
  'at most': 'over',
  'is empty': 'is filled',
  'is filled': 'is empty',
} as const;

function loop(text: string, hand: Hand, depth: number): Step[] | null {
  const made = (head: string, rest: string | null): Step[] | null => {
    const atOnce = /\s+(\d+) at once$/i.exec(head);
    const of = recordsIn((atOnce ? head.slice(0, atOnce.index) : head).trim(), hand, true);
    if (!of?.several || (atOnce && !(Number(atOnce[1]) >= 2 && Number(atOnce[1]) <= 20))) return null;
    const table = tableAt(hand, of.table);
    const query = of.query ?? {
      table: table.id,
      via: of.stored,
      where: { match: 'all' as const, conditions: [] },
      order: [],
      limit: null,
    };
    hand.said.set(of.stored, of.said);
    const step = hand.make.step('each', {
      query,
      resultName: `this ${table.one}`,
      ...(atOnce && { atOnce: Number(atOnce[1]) }),
    });
    const steps = rest === null ? [] : sentence(rest, withTurn(hand, step.result, table), depth + 1);
    return steps && [{ ...step, steps }];
  };
  const alone = made(text, null);
  if (alone) return alone;
  for (const [head, rest] of headsOf(text)) {
    const found = made(head, rest);
    if (found) return found;
  }
  return null;
}
