import { number, optional } from '../../core/document/meaning.ts';

/** How many stand side by side in a grid, where that is not for the room to say. */
export const GRID_COLUMNS = {
  columns: optional(number('the columns', 1, 6, { whole: true })),
  wideColumns: optional(number('the wide columns', 1, 12, { whole: true })),
};

/** Those that count in a room: on a phone, or where it is wide. */
export const columnsIn = (
  e: { columns?: number | undefined; wideColumns?: number | undefined },
  room: string,
): number | undefined => (room === 'narrow' ? e.columns : e.wideColumns);
