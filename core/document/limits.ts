/** Bounds of a document that more than its schema goes by. */

/** How many choices a field may have. */
export const MOST_CHOICES = 500;

/** How many letters the cells of a record may be written with at once, files in base 64 among them: three of 1 MB. */
export const MOST_LETTERS = 4_300_000;
/** How many changes, and letters in their cells, can be written together, and so are sent at once. */
export const MOST_TOGETHER = 10_000;
export const MOST_LETTERS_TOGETHER = 6_000_000;

/** What a mail may have; letters, but for the number of its addresses. */
export const MAIL_BOUNDS = { to: 100, address: 254, subject: 1000, body: 100_000, files: 10 } as const;
/** How many bytes the files of a mail may have together. */
export const MOST_MAIL_BYTES = 5 * 1024 * 1024;

/** How much an app may have. */
export const MOST_TABLES = 200;
export const MOST_FIELDS = 300;
export const MOST_SCREENS = 1000;
export const MOST_PARTS = 300;
/** Tabs of a tab bar, and screens in a drawer. */
export const MOST_WAYS = 30;
export const MOST_VARIABLES = 300;
export const MOST_SERVICES = 30;
/** Hosts that a maker may allow. */
export const MOST_ELSEWHERE = 50;
/** Columns of a file that become fields; the rest of the room is for links. */
export const MOST_COLUMNS = 280;
/** How many elements may stand in a box or form. */
export const MOST_CHILDREN = 200;
