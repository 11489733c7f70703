import type { Step } from '../../../core/app/schema.ts';
import type { Hand } from './hand.ts';

/** Reads one clause whole: its steps, or null where a word of it means nothing here. */
export type ReadClause = (words: string, hand: Hand) => Step[] | null;

/** A clause that begins in some way, and what the rest of it means. */
export type Rule = readonly [
  begins: RegExp,
  read: (rest: string, hand: Hand, begin: RegExpExecArray) => Step[] | Step | null,
];

/** The first of several rules that reads a clause whole. */
export const firstOf =
  (rules: readonly Rule[]): ReadClause =>
  (words, hand) => {
    for (const [begins, read] of rules) {
      const begin = begins.exec(words);
      if (!begin) continue;
      const found = read(words.slice(begin[0].length).trim(), hand, begin);
      if (found) return Array.isArray(found) ? found : [found];
    }
    return null;
  };

/** Words that hand over to what is said: “that the honey is ready”, “about the next visit”. */
export const saidIn = (words: string): string =>
  words
    .trim()
    .replace(/^(?::|(?:saying|that|about|to say|with the words|know(?: that)?)\b:?)\s*/i, '')
    .replace(/^["“](.*)["”]$/, '$1')
    .trim();
