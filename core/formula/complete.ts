import { builtins } from './builtins/index.ts';
import { phrasesOf } from '../document/search-words.ts';
import { entryKey } from './checking.ts';
import { ABOUT } from './builtins/about.ts';
import { FUNCTION_WORDS } from './builtins/search-words.ts';
import type { CompileOptions } from './compile.ts';
import type { Member, Name, Shapes } from './scope.ts';
import { typeText, type Type } from './types.ts';

export interface Completion {
  label: string;
  /** What is put in for it; the place of the cursor afterwards is at its end. */
  insert: string;
  kind: 'field' | 'link' | 'table' | 'thing' | 'function' | 'word' | 'value';
  /** Its type, or what a function takes. */
  detail: string;
  /** One line of help, and an example with its result. */
  help?: string;
  example?: string;
  /** Other words that people look for it by. */
  also?: readonly string[];
  /** Where it comes from, for telling two things of one name apart. */
  group: string;
}

export interface Completions {
  /** Where the text begins that the choice replaces. */
  from: number;
  items: Completion[];
}

const WORDS: [string, string][] = [
  ['if', 'if … then … else …'],
  ['then', 'what it is when the condition holds'],
  ['else', 'what it is otherwise'],
  ['and', 'both hold'],
  ['or', 'one of them holds'],
  ['not', 'the opposite'],
  ['in', 'is one of, or inside a range'],
  ['between', 'between … and …'],
  ['for', 'for x in list return …'],
  ['some', 'some x in list satisfies …'],
  ['every', 'every x in list satisfies …'],
  ['true', 'yes'],
  ['false', 'no'],
  ['null', 'nothing'],
];

/** The formula's own parts near the cursor: letters, figures and single spaces make names. */
const TAIL = /[\p{L}\p{N}_?·\p{M}'’][\p{L}\p{N}_?·\p{M}'’ ]*$/u;

/**
 * What could stand at a place of a formula: behind a dot the fields of what stands before it, inside brackets the
 * fields of the list's records first, elsewhere everything in reach, nearest first. Null where nothing fits.
 */
export function complete(text: string, at: number, options: CompileOptions): Completions | null {
  const before = text.slice(0, at);
  if (insideText(before)) return null;
  const shapes = options.shapes;
  const dot = /\.\s*([\p{L}\p{N}_?·\p{M}'’][\p{L}\p{N}_?·\p{M}'’ ]*)?$/u.exec(before);
  if (/(^|[^\p{L}\p{N}_ ])\d+\.\d*$/u.test(before)) return null; // in a number
  if (dot) {
    const type = chainType(before.slice(0, dot.index), options);
    const typed = dot[1] ?? '';
    if (!type) return null;
    return matching(before.length - typed.length, typed, membersOf(type, shapes));
  }
  const tail = TAIL.exec(before)?.[0] ?? '';
  const inner = bracketType(before, options);
  const items = [
    ...(inner ? membersOf(inner, shapes).map((i) => ({ ...i, group: 'Of each of them' })) : []),
    ...namesIn(options.names ?? []),
    ...functions(),
    ...WORDS.map(([w, help]): Completion => ({ label: w, insert: w, kind: 'word', detail: '', help, group: 'Words' })),
  ];
  // A name has spaces, so what is typed may begin at any of the last words.
  const starts = [...tail.matchAll(/(?:^| )(?=[^ ])/g)].map((m) => m.index + m[0].length);
  for (const start of starts) {
    const found = matching(before.length - tail.length + start, tail.slice(start), items);
    if (found.items.length) return found;
  }
  return tail === '' || tail.endsWith(' ') ? { from: at, items } : null;
}

function matching(from: number, typed: string, items: Completion[]): Completions {
  const wanted = typed.toLowerCase();
  const begins = items.filter((i) => i.label.toLowerCase().startsWith(wanted));
  const holds =
    wanted.length > 1 ? items.filter((i) => !begins.includes(i) && i.label.toLowerCase().includes(wanted)) : [];
  const near = new Set([...begins, ...holds]);
  const means = wanted.length > 2 ? items.filter((i) => !near.has(i) && i.also?.some((w) => w.startsWith(wanted))) : [];
  return { from, items: [...begins, ...holds, ...means] };
}

/** Is the end of this text inside quotation marks? */
const insideText = (text: string): boolean => (text.replace(/\\./g, '').match(/"/g) ?? []).length % 2 === 1;

function namesIn(names: readonly Name[]): Completion[] {
  const seen = new Set<string>();
  const out: Completion[] = [];
  for (const n of names) {
    // The nearer of two things of one name stands for it.
    if (seen.has(n.name)) continue;
    seen.add(n.name);
    const table = n.type.k === 'list' && n.origin?.from === 'table';
    const own = n.field !== undefined && n.origin?.from === 'self';
    out.push({
      label: n.name,
      insert: n.name,
      kind: table ? 'table' : own ? (isLink(n.type) ? 'link' : 'field') : 'thing',
      detail: typeText(n.type),
      group: table ? 'Whole tables' : own ? 'This record' : 'At hand',
    });
  }
  return out;
}

const isLink = (t: Type): boolean => t.k === 'record' || (t.k === 'list' && t.of.k === 'record');

/** Parts of dates, times and durations that stand behind a dot (DMN 1.5, 10.3.2.3). */
const PARTS: Partial<Record<Type['k'], string[]>> = {
  date: ['year', 'month', 'day', 'weekday'],
  datetime: ['year', 'month', 'day', 'weekday', 'hour', 'minute', 'second', 'time offset', 'timezone'],
  time: ['hour', 'minute', 'second', 'time offset', 'timezone'],
  days: ['days', 'hours', 'minutes', 'seconds'],
  months: ['years', 'months'],
  range: ['start', 'end', 'start included', 'end included'],
};

function membersOf(type: Type, shapes: Shapes | undefined): Completion[] {
  const of = type.k === 'list' ? type.of : type;
  if (of.k === 'record') return (shapes?.members(of.table) ?? []).map((m) => memberItem(m, type.k === 'list'));
  if (of.k === 'context')
    return Object.entries(of.entries).map(([key, t]) => {
      const label = of.names?.[key] ?? key;
      return { label, insert: label, kind: 'field', detail: typeText(t), group: 'Parts' };
    });
  return (PARTS[of.k] ?? []).map((label) => ({ label, insert: label, kind: 'field', detail: '', group: 'Parts' }));
}

const memberItem = (m: Member, many: boolean): Completion => ({
  label: m.name,
  insert: m.name,
  kind: isLink(m.type) ? 'link' : 'field',
  detail: many ? `of each: ${typeText(m.type)}` : typeText(m.type),
  group: 'Fields',
});

/** What makers reach for most often is offered before the rest. */
const COMMON = [
  'sum',
  'count',
  'max',
  'min',
  'mean',
  'string',
  'string join',
  'today',
  'now',
  'contains',
  'number',
  'date',
];
const rank = (name: string): number => (COMMON.includes(name) ? COMMON.indexOf(name) : COMMON.length);

let functionItems: Completion[] | undefined;
function functions(): Completion[] {
  functionItems ??= [...builtins().values()]
    .sort((a, b) => rank(a.name) - rank(b.name))
    .map((b): Completion => {
      const takes = b.params.map((p) => (p.optional ? `${p.name}?` : p.name)).join(', ');
      const about = ABOUT[b.name];
      return {
        label: b.name,
        insert: b.params.length ? `${b.name}(` : `${b.name}()`,
        kind: 'function',
        detail: `(${takes}${b.variadic ? ', …' : ''})`,
        ...about,
        also: phrasesOf(FUNCTION_WORDS[b.name] ?? []),
        group: 'Functions',
      };
    });
  return functionItems;
}

/** The type of the chain of names, filters and dots that a text ends with; null when it is not known. */
export function chainType(text: string, options: CompileOptions): Type | null {
  const { head, steps } = chain(text);
  let type: Type | null = null;
  // The longest name that is known at the end of the words before the first dot.
  const words = head.split(/ +/);
  for (let i = 0; i < words.length && !type; i++) {
    const name = words.slice(i).join(' ');
    type =
      options.names?.find((n) => n.name === name || n.id === name)?.type ??
      bracketMember(text, head, name, options) ??
      null;
  }
  for (const step of steps) {
    if (!type) return null;
    if (step === '[]') continue;
    if (step === '[n]') {
      type = type.k === 'list' ? type.of : type;
      continue;
    }
    const many: boolean = type.k === 'list';
    const of: Type = type.k === 'list' ? type.of : type;
    let next: Type | undefined;
    if (of.k === 'record') next = options.shapes?.members(of.table).find((m) => m.name === step || m.id === step)?.type;
    else if (of.k === 'context') next = of.entries[entryKey(of, step) ?? ''];
    if (!next) return null;
    type = many && next.k !== 'list' ? { k: 'list', of: next } : next;
  }
  return type;
}

/** A name that only the records inside the brackets around it have. */
function bracketMember(text: string, head: string, name: string, options: CompileOptions): Type | undefined {
  const inner = bracketType(text.slice(0, text.lastIndexOf(head)), options);
  const of = inner?.k === 'list' ? inner.of : inner;
  return of?.k === 'record' ? options.shapes?.members(of.table).find((m) => m.name === name)?.type : undefined;
}

/** Divides the end of a text at its dots: `sum(all Visits[Fed > 1].Hive` has the head "all Visits" and two steps. */
function chain(text: string): { head: string; steps: string[] } {
  const steps: string[] = [];
  let rest = text.trimEnd();
  for (;;) {
    if (rest.endsWith(']')) {
      const open = opening(rest);
      if (open < 0) return { head: '', steps };
      steps.unshift(/^\s*-?\d+\s*$/.test(rest.slice(open + 1, -1)) ? '[n]' : '[]');
      rest = rest.slice(0, open).trimEnd();
      continue;
    }
    const name = (TAIL.exec(rest)?.[0] ?? '').trimEnd();
    const before = rest.slice(0, rest.length - name.length).trimEnd();
    if (before.endsWith('.') && name) {
      steps.unshift(name.trim());
      rest = before.slice(0, -1).trimEnd();
      continue;
    }
    return { head: name.trim(), steps };
  }
}

/** The place of the bracket that the last one closes. */
function opening(text: string): number {
  let depth = 0;
  for (let i = text.length - 1; i >= 0; i--) {
    if (text[i] === ']') depth++;
    else if (text[i] === '[' && --depth === 0) return i;
  }
  return -1;
}

/** The records inside the innermost open square bracket, when it filters a list. */
function bracketType(before: string, options: CompileOptions): Type | null {
  let depth = 0;
  for (let i = before.length - 1; i >= 0; i--) {
    if (before[i] === ']') depth++;
    else if (before[i] === '[') {
      if (depth > 0) {
        depth--;
        continue;
      }
      const type = chainType(before.slice(0, i), options);
      return type?.k === 'list' ? type.of : null;
    }
  }
  return null;
}
