import type { Tap } from '../../core/document/pieces.ts';
import type { FetchState } from '../../core/records/fetching.ts';
import type { OfferedFilter } from '../../core/records/narrow.ts';
import type { Drawing, Place } from '../../core/screens/element.ts';
import { shownRecords, type ShownRecords, type ShowsRecords } from '../../core/screens/shown.ts';
import { tapped } from '../../core/screens/tapped.ts';

/** What its page draws around the records. */
export interface Around {
  search: boolean;
  searched: boolean;
  filters: OfferedFilter[];
  filtered: number;
  records: number;
  empty: string;
  tap: ReturnType<typeof tapped>;
  /** What is known of the answer they are; absent where they are not fetched. */
  fetch?: FetchState;
}

/** Compiles which records an element shows, and what is around them. */
export function recordsOf(
  d: Drawing,
  e: ShowsRecords & { empty: string; tap: Tap },
): (p: Place) => { now: ShownRecords; around: Around } {
  const shown = shownRecords(d, e);
  const empty = d.words(e.empty);
  const always = { search: e.search ?? false, tap: tapped(e.tap) };
  return (p) => {
    const now = shown(p);
    const { filters, filtered, searched, rows, fetch } = now;
    return {
      now,
      around: {
        ...always,
        filters,
        filtered,
        searched,
        records: rows.length,
        empty: empty(p),
        ...(fetch && { fetch }),
      },
    };
  };
}
