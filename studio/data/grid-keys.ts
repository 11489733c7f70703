/** Where keys lead in a grid: rows and columns on. */
export const MOVES: Readonly<Record<string, readonly [number, number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
  PageDown: [15, 0],
  PageUp: [-15, 0],
};

/** What a letter says that is typed into a yes/no cell: the first one of yes or no. Others say nothing. */
export const saidBy = (letter: string): boolean | null => ({ y: true, n: false })[letter.toLowerCase()] ?? null;
