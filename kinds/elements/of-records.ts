import type { Query } from '../../core/document/pieces.ts';
import { allOf } from '../../core/document/queries.ts';
import { elements, fields, optional, query, tap, words, yesNo, type AnyElement } from '../../core/document/meaning.ts';

/** What lists, tables, boards, calendars and plans have in common: each shows records of a query, in a way of its own. */

/** Which records. */
export const QUERY = {
  query: query('its table', { unfilled: { severity: 'stops', said: 'its table is not chosen.' } }),
};

/** The filters that people set. */
export const FILTERS = { filters: optional(fields('the filters that people set', 'query')) };

/** The search box, which is above what shows them. */
export const searchAbove = (what: string) => ({
  search: yesNo('the search box', { true: `above ${what}`, false: 'none' }),
});

/** What is shown when there are no records: words, or elements in their place. `when` goes on “the words for …”. */
export const whenEmpty = (when: string, of = `${when.replace(/^(when|for) /, '')}`) => ({
  empty: words(`the words ${when}`, {
    unfilled: { severity: 'look', said: `the words for ${of} are missing.` },
  }),
  none: optional(elements('what is shown when there are none', 6)),
});

/** What is drawn for each record, and what a tap on it does. */
export const forEach = (what: string, most = 50, unfilled?: string) => ({
  tap: tap('a tap', { inside: 'children' }),
  children: elements(what, most, {
    each: true,
    brings: (e) => ({ row: (e['query'] as Query).table }),
    ...(unfilled && { unfilled: { severity: 'look', said: unfilled } }),
  }),
});

/** What an element of records begins with. */
export const begun = (table: { id: string } | null | undefined, rows: AnyElement[]) => ({
  query: allOf(table?.id ?? ''),
  empty: 'Nothing here yet.',
  tap: { do: 'nothing' as const },
  children: rows,
});
