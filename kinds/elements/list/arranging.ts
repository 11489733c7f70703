import type { Query } from '../../../core/document/pieces.ts';
import type { OfferedFilter } from '../../../core/records/narrow.ts';
import type { Row } from '../../../core/records/row.ts';
import type { Drawing, Place } from '../../../core/screens/element.ts';

/** The line over the records that were put together. */
export interface Head {
  /** Which line of the list it is. */
  at: number;
  key: string;
  label: string;
  count: number;
  /** Of the field that is summed up; empty when none is. */
  sum: string;
}

/** What of a list says how its records are put together and filtered. */
export interface Arranged {
  runs: string;
  query: Query;
  search: boolean;
  by?: string | undefined;
  sum?: string | undefined;
  filters?: string[] | undefined;
}
/** Some lines of a list: heads and records, and the filters as they stand. */
export interface Lines {
  heads: Head[];
  filters: OfferedFilter[];
  filtered: number;
  /** Records in all. */
  records: number;
  /** Lines in all, the first that is here, and the records among those that are. */
  total: number;
  from: number;
  rows: readonly Row[];
}
type Arranging = (e: Arranged, d: Drawing) => (p: Place, from: number, count: number) => Lines;

/** Putting together and filtering come with `arranged.ts`, for screens whose lists do either: a first screen is light. */
let arranging: Arranging | null = null;
export const useArranging = (given: Arranging): void => {
  arranging = given;
};

export const isArranged = (e: { by?: unknown; filters?: readonly unknown[] | undefined }): boolean =>
  Boolean(e.by || e.filters?.length);

/** How the lines of a list are found that is put together or filtered; null for a plain one. */
export const arrangedOf = (e: Arranged, d: Drawing): ReturnType<Arranging> | null =>
  isArranged(e) && arranging ? arranging(e, d) : null;
