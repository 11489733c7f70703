const ALPHABET = 'abcdefghijklmnopqrstuvwxyz0123456789';

/** A new id such as `f_k3x9a2bq0w`: the letter says what it names. About 51 bits of chance. */
export function newId(letter: string, random: (n: number) => Uint8Array = secureRandom): string {
  let id = `${letter}_`;
  while (id.length < 12) {
    // 252 is the highest multiple of 36 in a byte; bytes above it would favour some letters.
    for (const b of random(16)) if (b < 252 && id.length < 12) id += ALPHABET[b % 36];
  }
  return id;
}

const secureRandom = (n: number): Uint8Array => crypto.getRandomValues(new Uint8Array(n));

/** A new secret: 256 bits of chance, as base64url (RFC 4648, section 5). */
export const newSecret = (): string =>
  btoa(String.fromCharCode(...secureRandom(32)))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '');

/** Ids from a fixed seed, for demos and tests that must come out the same (mulberry32). */
export function seededRandom(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** The id that stands for the other end of a link field. */
export const backId = (linkField: string): string => `${linkField}_back`;
/** The id of a whole table in a formula, shown as "all Visits". */
export const allId = (table: string): string => `all_${table}`;
/** The id of the record at hand in a formula, shown as "this visit". */
export const thisId = (table: string): string => `this_${table}`;

// Letters and digits that are not mistaken for one another when read aloud or copied by hand.
const READABLE = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

/** A new id that people can read: eight letters and digits, about 40 bits of chance. */
export function readableId(prefix = ''): string {
  let id = '';
  // 256 is a multiple of the alphabet's 32 signs, so every sign is equally likely.
  for (const b of crypto.getRandomValues(new Uint8Array(8))) id += READABLE[b % READABLE.length];
  return `${prefix}${id}`;
}

/** Variables are the fields of one record of a table of their own, which is neither shown nor sent anywhere. */
export const VARIABLES = 't_variables';
export const VARIABLES_RECORD = 'variables';

/** What services answer is told by one record of a table of its own, which changes with every answer. */
export const ANSWERS = 't_answers0';
export const ANSWERS_CAME = 'f_came000';

/** The app facts are one record, which has this id in every app. */
export const FACTS_RECORD = 'facts';
