import MiniSearch, { type SearchResult } from 'minisearch';
import type { SearchWords } from '../../core/document/search-words.ts';

/** A thing that can be found by typing. */
export interface Findable {
  name: string;
  hint?: string | undefined;
  words?: SearchWords | undefined;
}

/** A thing that was found, and what is said beside it where other words than its name led to it. */
export interface Found<T> {
  it: T;
  says: string | undefined;
}

/** Words that say nothing of what is looked for. */
const EMPTY = new Set(['a', 'an', 'the', 'to', 'of', 'for', 'my', 'in', 'on', 'and', 'or', 'with']);
const plain = (s: string): string =>
  s
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
/** What is looked for, without such words, unless there are no others. */
function wantedOf(text: string): string[] {
  const all = text.split(' ');
  const wanted = all.filter((t) => !EMPTY.has(t));
  return wanted.length ? wanted : all;
}

interface Indexed {
  id: number;
  name: string;
  words: string;
  hint: string;
}

/**
 * A search over things by name, by the words people use for them and by hint, in this order of weight. Whole names and
 * phrases come first, then words that begin so, then those with a typing error or two. Letters that are only scattered
 * over a word find nothing.
 */
export function searchOf<T extends Findable>(things: readonly T[]): (typed: string) => Found<T>[] {
  const phrases = things.map((t) =>
    (t.words ?? []).flatMap((w) => {
      const [list, says] = typeof w === 'string' ? [w, undefined] : w;
      return list.split(',').map((p) => ({ phrase: plain(p), says }));
    }),
  );
  const index = new MiniSearch<Indexed>({
    fields: ['name', 'words', 'hint'],
    tokenize: (text) => plain(text).split(' '),
    processTerm: (t) => t,
    searchOptions: {
      boost: { name: 4, words: 2, hint: 0.6 },
      prefix: (_, i, terms) => i === terms.length - 1,
      fuzzy: (t) => (t.length > 3 ? 0.25 : false),
      maxFuzzy: 2,
      weights: { fuzzy: 0.3, prefix: 0.6 },
      combineWith: 'AND',
    },
  });
  index.addAll(
    things.map((t, id) => ({
      id,
      name: t.name,
      words: phrases[id]!.map((p) => p.phrase).join(' '),
      hint: t.hint ?? '',
    })),
  );
  return (typed) => {
    const text = plain(typed);
    if (!text) return [];
    const wanted = wantedOf(text);
    const all = index.search(wanted.join(' '));
    // Where nothing has all the words, what has more than half of them.
    const some = (): SearchResult[] =>
      index
        .search(wanted.join(' '), { combineWith: 'OR' })
        .filter((r) => new Set(r.queryTerms).size * 2 > wanted.length);
    const results = all.length ? all : some();
    const bonus = (id: number): number => {
      const name = plain(things[id]!.name);
      if (name === text) return 1000;
      // The words a thing is found by come with those first that mean it most.
      const at = phrases[id]!.findIndex((p) => p.phrase === text);
      if (at >= 0) return 500 - at;
      return name.startsWith(text) ? 200 : phrases[id]!.some((p) => p.phrase.startsWith(text)) ? 50 : 0;
    };
    return results
      .map((r) => ({ id: r.id as number, score: r.score + bonus(r.id as number) }))
      .sort((a, b) => b.score - a.score || a.id - b.id)
      .map(({ id }) => ({ it: things[id]!, says: saysOf(phrases[id]!, text) }));
  };
}

/** What is said of a thing where the phrase with these words led to it. */
function saysOf(phrases: readonly { phrase: string; says: string | undefined }[], text: string): string | undefined {
  const first = text.split(' ')[0]!;
  return (
    phrases.find((p) => p.phrase === text) ??
    phrases.find((p) => p.phrase.startsWith(text)) ??
    phrases.find((p) => p.says && p.phrase.split(' ').some((w) => w.startsWith(first)))
  )?.says;
}
