/**
 * A text that a spreadsheet program would run as a formula gets an apostrophe before it (OWASP, CSV injection); so does
 * one that has such an apostrophe of its own, so that what was put before it can be told.
 */
export const harmless = (text: string): string => (/^'*[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** Takes that apostrophe off again. */
export const withoutApostrophe = (text: string): string => (/^'+[=+\-@\t\r]/.test(text) ? text.slice(1) : text);
