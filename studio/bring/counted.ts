/** A whole number as it is written in sentences. */
export const number = (n: number): string => n.toLocaleString('en-GB');

/** A number with its word: “1 cell”, “1,200 cells”. */
export const counted = (n: number, one: string, many: string): string => `${number(n)} ${n === 1 ? one : many}`;
