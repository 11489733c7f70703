/** So many are offered. */
const MOST = 3;
/** Longer ones are cut. */
const LONGEST = 60;

/** The words that a name shares with another, as a share of both. */
function likeness(a: string, b: string): number {
  const [as, bs] = [pairs(a), pairs(b)];
  if (as.size + bs.size === 0) return 0;
  let both = 0;
  for (const p of as) if (bs.has(p)) both++;
  return (2 * both) / (as.size + bs.size);
}

/** Neighbouring letters (Dice’s coefficient over bigrams). */
function pairs(text: string): Set<string> {
  const plain = text.toLowerCase().normalize('NFKD').slice(0, 400);
  return new Set(Array.from({ length: Math.max(0, plain.length - 1) }, (_, i) => plain.slice(i, i + 2)));
}

/** Of what there is, what is most like a name; the most like first. */
export function nearestFew(name: string, known: readonly string[]): string[] {
  return [...new Set(known.filter(Boolean))]
    .map((k) => ({ k, like: likeness(name, k) }))
    .filter(({ like }) => like > 0.15)
    .sort((a, b) => b.like - a.like)
    .slice(0, MOST)
    .map(({ k }) => (k.length > LONGEST ? `${k.slice(0, LONGEST).trimEnd()}…` : k));
}
