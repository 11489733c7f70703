/** How many changes can be written together, and so sent at once. */
export const MOST_TOGETHER = 10_000;
