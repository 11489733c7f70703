/**
 * The words that people look for a thing by, beside its name and hint: phrases between commas; with a second text, what
 * is said beside the thing where one of these led to it (“for a field of choices”).
 */
export type SearchWords = readonly (string | readonly [phrases: string, says: string])[];

/** The phrases of search words, without what is said beside them. */
export const phrasesOf = (words: SearchWords): string[] =>
  words.flatMap((w) => (typeof w === 'string' ? w : w[0]).split(',').map((p) => p.trim()));
