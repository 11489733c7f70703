import { fromMarkdown } from 'mdast-util-from-markdown';

/** A piece of words that stands by itself, as mdast has it. */
export type RichPiece = ReturnType<typeof fromMarkdown>['children'][number];

/** What a phone reads in an instant. Lists in lists and signs of emphasis cost the square of their number. */
const MOST = { letters: 300_000, deep: 60, signs: 1500 } as const;

/** The signs at the head of a line that put it into quotes and lists, each in the one before (CommonMark 0.31, 5). */
const HELD = /^(?:[ \t]*(?:>|(?:[-+*]|\d{1,9}[.)])(?=[ \t]|$)))*[ \t]*/;
const SIGNS = /[*_[\]`!<]/g;

/** Why words are not read as CommonMark; null when they are. */
export function tooRich(words: string): string | null {
  if (words.length > MOST.letters) return `they have ${words.length.toLocaleString('en-GB')} letters`;
  for (const line of words.split('\n')) {
    const head = HELD.exec(line)![0];
    const deep = head.replace(/\s+|\d+/g, '').length + head.replace(/\S+/g, '').length / 4;
    if (deep > MOST.deep) return 'they have quotes or lists in one another';
  }
  for (const part of words.split(/\n[ \t]*\n/)) {
    const signs = part.match(SIGNS)?.length ?? 0;
    if (signs > MOST.signs) return `one paragraph has ${signs.toLocaleString('en-GB')} signs of emphasis and links`;
  }
  return null;
}

/** Words as CommonMark has them. Those that would take too long to read stand as they were typed, a paragraph each. */
export function richPieces(words: string): RichPiece[] {
  return tooRich(words) ? plainPieces(words) : fromMarkdown(words).children;
}

/** Words as they were typed, a paragraph each. */
export const plainPieces = (words: string): RichPiece[] =>
  words
    .split(/\n[ \t]*\n/)
    .filter((part) => part.trim())
    .map((value): RichPiece => ({ type: 'paragraph', children: [{ type: 'text', value }] }));
