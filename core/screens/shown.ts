import type { Query } from '../document/pieces.ts';
import type { FetchState } from '../records/fetching.ts';
import { figureOf } from '../records/figures.ts';
import { display } from '../records/format.ts';
import type { ReadField } from '../records/groups.ts';
import { filterAs, filtersSet, narrow, type NarrowBy, type OfferedFilter } from '../records/narrow.ts';
import { wantedOf } from '../records/query.ts';
import type { Row } from '../records/row.ts';
import type { Drawing, Place } from './element.ts';
import { readField } from './read-field.ts';

/** As much of a list, board or calendar as says which records it shows. */
export interface ShowsRecords {
  query: Query;
  search?: boolean;
  filters?: string[] | undefined;
}

/** All the records that are shown at a place, as its person has narrowed them. */
export interface ShownRecords {
  rows: readonly Row[];
  filters: OfferedFilter[];
  /** So many filters are set. */
  filtered: number;
  /** Words are looked for. */
  searched: boolean;
  /** What is known of the answer they are, where they are fetched. */
  fetch: FetchState | null;
}

interface Known extends ShownRecords {
  version: number;
  asked: string;
}

/** Compiles which records an element shows: its query, its limit, what its person looks for and has filtered by. */
export function shownRecords(d: Drawing, e: ShowsRecords): (p: Place) => ShownRecords {
  const query = d.query(e.query, e.search ?? false);
  const filters = (e.filters ?? []).flatMap((id): NarrowBy[] => {
    const read = readField(d, e.query.table, id);
    const type = d.records.model.tables.get(e.query.table)?.members.find((m) => m.id === id)?.type;
    const as = read && type ? filterAs(read.field, type) : null;
    return read && as ? [{ ...read, as }] : [];
  });
  const memory = {};
  return (p) => {
    const set = filtersSet(p.view['filters']);
    const wanted = wantedOf(p.view['search']);
    const asked = JSON.stringify([wanted, set]);
    const kept = p.keep(memory, (): { known: Known | null } => ({ known: null }));
    const { version } = d.records;
    // While people scroll nothing is worked out again.
    if (kept.known?.asked === asked && kept.known.version === version) return kept.known;
    const all = query(p).all(p.view['search']);
    const rows = all.slice(0, query(p).most());
    const narrowed = narrow(rows, filters, set);
    // Working values out may have moved the clock's fields: the version is read last.
    const [filtered, searched] = [Object.keys(set).length, wanted !== ''];
    const fetch = query(p).fetchState();
    kept.known = { ...narrowed, filtered, searched, fetch, asked, version: d.records.version };
    return kept.known;
  };
}

/** The sum of a field over some records, as people read it; nothing where there is nothing to add. */
export function sumOf(rows: readonly Row[], of: ReadField | null): string {
  if (!of) return '';
  const sum = figureOf(
    'sum',
    rows.map((r) => of.get(r)),
  );
  return display(sum, of.field);
}
