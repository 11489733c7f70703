import type { ElementMaker } from '../../core/app/make.ts';
import type { App, Routine, Step } from '../../core/app/schema.ts';
import { thisId } from '../../core/document/ids.ts';
import { toStored } from '../../core/formula/stored.ts';
import type { Model, Thing } from '../../core/records/model.ts';
import type { Field } from '../../core/tables/schema.ts';
import type { Path } from '../chips/paths.ts';

/** A step that typed words were understood as, and how that reads. */
export interface Understood {
  step: Step;
  said: string;
}

/** Where typed words are read. */
export interface Hand {
  app: App;
  model: Model;
  routine: Routine;
  make: ElementMaker;
  paths: Path[];
  things: readonly Thing[];
}

export const quoted = (s: string): string => `"${s.replace(/["\\]/g, '\\$&')}"`;
export const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
export const plain = (s: string): string => s.toLowerCase().replace(/[^\p{L}\p{N} ]/gu, ' ');
export const wordsOf = (s: string): string[] => plain(s).split(/\s+/).filter(Boolean);

/** Finds what a name stands for at the beginning of some words, the longest name first. Gives what is left. */
export function named<T>(
  words: string,
  list: readonly T[],
  nameOf: (x: T) => string[],
): { it: T; rest: string } | null {
  const low = words.toLowerCase();
  const all = list.flatMap((it) => nameOf(it).map((name) => ({ it, name: name.toLowerCase() })));
  for (const { it, name } of all.sort((a, b) => b.name.length - a.name.length))
    if (name && (low === name || low.startsWith(`${name} `))) return { it, rest: words.slice(name.length).trim() };
  return null;
}
export const without = (words: string, ...lead: string[]): string =>
  words.replace(new RegExp(`^(?:(?:${lead.join('|')})\\s+)+`, 'i'), '');

/** The value at hand that the first words name, by as many words of its way as they hold. */
export function pathIn(words: string, paths: readonly Path[]): { path: Path; rest: string } | null {
  const typed = wordsOf(words);
  let best: { path: Path; score: number; used: number } | null = null;
  for (const path of paths) {
    const label = wordsOf(path.label);
    let used = 0;
    while (used < typed.length && label.some((w) => w === typed[used] || w.startsWith(`${typed[used]}s`))) used++;
    const score = used * 10 - path.depth;
    if (used > 0 && (!best || score > best.score)) best = { path, score, used };
  }
  if (!best) return null;
  const rest = words.trim().split(/\s+/).slice(best.used).join(' ');
  return { path: best.path, rest };
}

/** A typed value as a formula: a number, a date of today, yes or no, a value at hand, or words. */
export function valueOf(words: string, hand: Hand, field?: Field): string {
  const text = words.trim();
  if (/^-?\d+(\.\d+)?$/.test(text)) return text;
  if (/^(yes|no)$/i.test(text) && (!field || field.type === 'yesno'))
    return text.toLowerCase() === 'yes' ? 'true' : 'false';
  if (/^(today|now)$/i.test(text)) return `${text.toLowerCase()}()`;
  if (/^nothing$/i.test(text)) return 'null';
  const choice = field?.choices?.find((c) => c.name.toLowerCase() === text.toLowerCase());
  if (choice) return quoted(choice.name);
  const path = pathIn(text, hand.paths);
  if (path && !path.rest) return path.path.stored;
  return (text && sumOf(text, hand)) || (text ? quoted(text) : '');
}

/** "First + Second": a formula over what is at hand. Words with a sign in them that name nothing are words. */
export function sumOf(text: string, { model, things }: Hand): string {
  if (!/[-+*/×÷&()]/.test(text)) return '';
  const { stored, compiled } = toStored(text, model.optionsFor(null, things));
  return compiled.references.length > 0 && compiled.problems.every((p) => p.severity !== 'error') ? stored : '';
}

export const recordAtHand = ({ routine }: Hand): string => (routine.given ? thisId(routine.given) : '');
