import { counts, isStop, sentencesOf, stem, wordsOf } from './tokens.ts';

/**
 * The sentences of a text that say most of it, as many as wanted, in their order: those whose words are the most
 * frequent, among them the most frequent of all, where the words of a sentence that was taken count less for the next
 * (SumBasic; Nenkova and Vanderwende, The Impact of Frequency on Summarization, 2005).
 */
export function sumUp(text: string, most: number): string {
  const sentences = sentencesOf(text);
  if (sentences.length <= most) return sentences.join(' ');
  const all = counts(text);
  const total = [...all.values()].reduce((a, b) => a + b, 0) || 1;
  const chance = new Map([...all].map(([w, n]) => [w, n / total]));
  const stems = sentences.map((s) => [
    ...new Set(
      wordsOf(s)
        .filter((w) => !isStop(w))
        .map(stem),
    ),
  ]);
  const taken = new Set<number>();
  while (taken.size < most) {
    const left = stems.flatMap((_, i) => (taken.has(i) ? [] : [i]));
    // The sentence is taken among those with the word that is the most probable now.
    const word = left.flatMap((i) => stems[i]!).reduce((a, b) => (chance.get(b)! > (chance.get(a) ?? -1) ? b : a), '');
    let best = left[0]!;
    let score = -1;
    stems.forEach((own, i) => {
      if (taken.has(i) || (word && !own.includes(word))) return;
      const mean = own.reduce((sum, w) => sum + chance.get(w)!, 0) / Math.max(1, own.length);
      if (mean > score) [best, score] = [i, mean];
    });
    taken.add(best);
    for (const w of stems[best]!) chance.set(w, chance.get(w)! ** 2);
  }
  return [...taken]
    .sort((a, b) => a - b)
    .map((i) => sentences[i]!)
    .join(' ');
}
