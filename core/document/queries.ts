import type { Query, Where } from './pieces.ts';

/** No condition: every record fits. */
export const noConditions = (): Where => ({ match: 'all', conditions: [] });

/** All records of a table, in the order they came in. */
export const allOf = (table: string): Query => ({ table, where: noConditions(), order: [], limit: null });

/** Stands in a query whose table is not chosen yet. */
export const NO_TABLE = 't_nottaken00';
