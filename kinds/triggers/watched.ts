import { table } from '../../core/document/meaning.ts';

/** The table whose records a trigger of the host watches. */
export const watchedTable = table('the table', {
  unfilled: { severity: 'stops', said: 'the table whose records are watched is not chosen.' },
});
