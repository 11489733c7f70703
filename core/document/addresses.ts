const ADDRESS = /^[^\s@<>,;:"()[\]\\]+@[^\s@<>,;:"()[\]\\]+$/;

/** True for one plain mail address (RFC 5321: 254 characters at most). */
export const isMailAddress = (s: string): boolean => ADDRESS.test(s) && s.length <= 254;

/** The addresses in a text that lists them with commas, semicolons or line ends. */
export const addressesIn = (text: string): string[] =>
  text
    .split(/[,;\n]/)
    .map((s) => s.trim())
    .filter(Boolean);
