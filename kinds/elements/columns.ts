import { number, optional } from '../../core/document/meaning.ts';

/** How many stand side by side in a grid, where that is not for the room to say. */
export const GRID_COLUMNS = {
  columns: optional(number('the columns', 1, 6, { whole: true })),
  wideColumns: optional(number('the wide columns', 1, 12, { whole: true })),
};
