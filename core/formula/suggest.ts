/** The known name closest to a misspelt one, or null when none is near (Levenshtein distance, at most a third off). */
export function nearest(name: string, known: readonly string[]): string | null {
  const wanted = name.toLowerCase();
  let best: string | null = null;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const k of new Set(known)) {
    if (Math.abs(k.length - name.length) >= least) continue;
    const d = distance(wanted, k.toLowerCase());
    if (d < least) {
      least = d;
      best = k;
    }
  }
  return best;
}

function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
    }
    row = next;
  }
  return row[b.length]!;
}
