import { counts, isStop, stem, wordsOf } from './tokens.ts';

/** A choice and the words that speak for it. */
export interface Choice {
  name: string;
  words: string;
}
export interface Judgement {
  choice: string;
  /** The words of the text that speak for it, as they stand there. */
  why: string[];
  /** 0 to 1: how much more speaks for it than for the others. */
  sure: number;
}

/**
 * The choice that is nearest to a text by the angle between their words, counted by stem, each word weighed by how few
 * choices have it (cosine similarity and inverse document frequency; Salton, Wong and Yang, 1975; Spärck Jones, 1972).
 * Null where no word speaks for any, or two are equally near.
 */
export function judge(text: string, choices: readonly Choice[]): Judgement | null {
  const own = counts(text);
  const each = choices.map((c) => counts(`${c.name} ${c.words}`));
  const weight = (w: string): number => Math.log((1 + choices.length) / (0.5 + each.filter((c) => c.has(w)).length));
  const length = (v: ReadonlyMap<string, number>): number =>
    Math.sqrt([...v].reduce((sum, [w, n]) => sum + (n * weight(w)) ** 2, 0));
  const scores = each.map((c) => {
    const dot = [...c].reduce((sum, [w, n]) => sum + n * (own.get(w) ?? 0) * weight(w) ** 2, 0);
    return dot === 0 ? 0 : dot / (length(c) * length(own));
  });
  const order = scores.map((score, i) => ({ score, i })).sort((a, b) => b.score - a.score);
  const [best, second] = order;
  if (!best || best.score === 0 || (second && second.score === best.score)) return null;
  const speaks = each[best.i]!;
  const why = [...new Set(wordsOf(text).filter((w) => !isStop(w) && speaks.has(stem(w))))];
  const sum = scores.reduce((a, b) => a + b, 0);
  return { choice: choices[best.i]!.name, why, sure: best.score / sum };
}

/** The choices that lines of "name: words that speak for it" give; commas part them where there is one line. */
export function choicesIn(lines: string): Choice[] {
  const rows = lines.split('\n').filter((l) => l.trim());
  const parts = rows.length === 1 && !rows[0]!.includes(':') ? rows[0]!.split(',') : rows;
  return parts.flatMap((row) => {
    const [name = '', words = ''] = row.split(/:(.*)/s);
    return name.trim() ? [{ name: name.trim(), words: words.trim() }] : [];
  });
}
