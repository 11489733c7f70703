/** A text that a spreadsheet program would run as a formula gets an apostrophe before it (OWASP, CSV injection). */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** Takes that apostrophe off again. */
export const withoutApostrophe = (text: string): string => (/^'[=+\-@\t\r]/.test(text) ? text.slice(1) : text);
