/** What a spreadsheet program takes for a formula, behind spaces, line breaks and signs that are not seen as well. */
const BEGINS = /[\s\p{Cc}\p{Cf}]*[=+\-@＝＋－＠]|[\t\r\n]/u.source;
const RUNS = new RegExp(`^'*(?:${BEGINS})`, 'u');
const WAS_MARKED = new RegExp(`^'+(?:${BEGINS})`, 'u');

/**
 * A text that a spreadsheet program would run as a formula gets an apostrophe before it (OWASP, CSV injection); so does
 * one that has such an apostrophe of its own, so that what was put before it can be told.
 */
export const harmless = (text: string): string => (RUNS.test(text) ? `'${text}` : text);

/** Takes that apostrophe off again. */
export const withoutApostrophe = (text: string): string => (WAS_MARKED.test(text) ? text.slice(1) : text);
