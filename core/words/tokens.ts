/** English words that say little by themselves. */
const STOPS = new Set(
  `a about above after again all also am an and any are as at be because been before being below between both but by can
  could did do does doing down during each few for from further had has have having he her here hers him his how i if in
  into is it its just me more most my no nor not now of off on once only or other our out over own same she should so
  some such than that the their them then there these they this those through to too under until up very was we were
  what when where which while who whom why will with would you your`.split(/\s+/),
);

export const isStop = (word: string): boolean => STOPS.has(word);

/** The letters that are looked at together; a sentence that is longer is looked at in twice as many, and so on. */
const WINDOW = 2000;

/** The sentences of a text; lines of their own count as sentences. */
export function sentencesOf(text: string): string[] {
  return text
    .split(/\n+/)
    .flatMap(sentencesOfLine)
    .filter((s) => /\p{L}/u.test(s));
}

/**
 * A segmenter gives a copy of all its text with each segment, so a long line is given to it in windows. What a window
 * ends in, back to the last letter, may go on in the next and is looked at again.
 */
function sentencesOfLine(line: string): string[] {
  const segmenter = new Intl.Segmenter('en', { granularity: 'sentence' });
  const found: string[] = [];
  let size = WINDOW;
  for (let at = 0; at < line.length;) {
    const isRest = at + size >= line.length;
    const seen = Array.from(segmenter.segment(line.slice(at, at + size)), (s) => s.segment);
    const whole = isRest ? seen.length : seen.findLastIndex((s) => /\p{L}/u.test(s));
    for (const sentence of seen.slice(0, Math.max(0, whole))) {
      found.push(sentence.trim());
      at += sentence.length;
    }
    if (isRest) break;
    size = whole > 0 ? WINDOW : size * 2;
  }
  return found;
}

/** The words of a text in small letters. */
export const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .replace(/[’']s\b/g, '')
    .match(/\p{L}[\p{L}\p{N}’'-]*|\p{N}+/gu) ?? [];

/** A word without its plural (the S stemmer of D. Harman, How effective is suffixing?, 1991) and the commonest endings. */
export function stem(word: string): string {
  let w = word;
  if (w.endsWith('ies') && !/[ae]ies$/.test(w)) w = `${w.slice(0, -3)}y`;
  else if (w.endsWith('es') && !/[aeo]es$/.test(w)) w = w.slice(0, -1);
  else if (w.endsWith('s') && !/[us]s$/.test(w)) w = w.slice(0, -1);
  if (w.length > 5) w = w.replace(/(?:ing|ed)$/, '');
  return w.length > 3 ? w.replace(/e$/, '') : w;
}

/** How often each word that says something stands in a text, by its stem. */
export function counts(text: string): Map<string, number> {
  const all = new Map<string, number>();
  for (const word of wordsOf(text)) {
    if (isStop(word)) continue;
    const s = stem(word);
    all.set(s, (all.get(s) ?? 0) + 1);
  }
  return all;
}
