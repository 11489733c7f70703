import { field, number, oneOf, optional, tap, text } from '../../../core/document/meaning.ts';
import type { Query } from '../../../core/document/pieces.ts';
import { wantedOf } from '../../../core/records/query.ts';
import { defineElement, type Place } from '../../../core/screens/element.ts';
import { begun, FILTERS, forEach, QUERY, searchAbove, whenEmpty } from '../of-records.ts';
import { tapped } from '../../../core/screens/tapped.ts';
import { GRID_COLUMNS } from '../columns.ts';
import { arrangedOf, type Lines } from './arranging.ts';

/** A list of so many records, or fewer, is there as a whole; of a longer one first as many as fill a screen. */
const SHORT = 40;
const A_SCREENFUL = 20;
const whole = (n: unknown, otherwise: number): number =>
  typeof n === 'number' && Number.isFinite(n) ? Math.max(0, Math.floor(n)) : otherwise;

export const list = defineElement({
  kind: 'list',
  said: { name: 'List', hint: 'records' },
  needs: 'table',
  properties: {
    ...QUERY,
    runs: oneOf('how it runs', { down: 'Down', grid: 'Grid', across: 'Across' }),
    ...GRID_COLUMNS,
    gap: number('the gap', 0, 64),
    surface: oneOf('the row surface', { none: 'none', card: 'card', tint: 'tint' }),
    ...searchAbove('the list'),
    /** Running down, its records may stand together under heads, which count them and add a figure up. */
    by: optional(field('what it is grouped by', 'query')),
    sum: optional(field('the sum in its heads', 'query')),
    ...FILTERS,
    ...forEach('its rows', 50, 'its rows show nothing yet.'),
    ...whenEmpty('for an empty list'),
    swipe: optional(tap('a swipe of a row', { inside: 'children' })),
    swipeWords: optional(text('the words for the swipe', 40)),
    several: optional(tap('what is done with every marked record', { inside: 'children' })),
    severalWords: optional(text('the words for the marked records', 40)),
    /** People drag records into an order, which this number field keeps. */
    ordered: optional(field('the field that keeps their order', 'query')),
  },
}).does({
  begin: ({ table, row }) => ({
    ...begun(table, table ? [row(table)] : []),
    runs: 'down',
    gap: 8,
    surface: 'card',
    search: false,
  }),
  name: (e, naming) => `List of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  draw(e, d) {
    const query = d.query(e.query, e.search);
    const arranged = arrangedOf(e, d);
    const empty = d.words(e.empty);
    const order = orderField(e);
    if (order) d.reads(e.query.table, order);
    if (d.ruled) d.reads(e.query.table);
    const common = {
      runs: e.runs,
      columns: e.columns,
      wideColumns: e.wideColumns,
      gap: e.gap,
      surface: e.surface,
      search: e.search,
      tap: tapped(e.tap),
      swipe: tapped(e.swipe) === 'act' ? e.swipeWords || 'Do it' : '',
      several: tapped(e.several) === 'act' ? e.severalWords || 'Do it' : '',
      table: e.query.table,
      ordered: order,
    };
    const plain = (p: Place, wanted: number, most: number): Lines => {
      const limit = query(p).most();
      const from = Math.max(0, Math.min(wanted, limit - 1));
      const part = query(p).part(from, Math.min(most, limit - from), p.view['search']);
      const total = Math.min(part.total, limit);
      const at = Math.min(from, Math.max(0, total - 1));
      return { heads: [], filters: [], filtered: 0, records: total, total, from: at, rows: part.rows };
    };
    return (p) => {
      // What the person did to it: the part of the list in view, what is looked for, the filters that are set.
      const from = whole(p.view['from'], 0);
      const count = whole(p.view['count'], A_SCREENFUL);
      const part = arranged ?? plain;
      const some = part(p, from, count);
      const fetch = query(p).fetchState();
      const isShort = p.view['count'] === undefined && some.total <= SHORT;
      const drawn = isShort ? part(p, from, SHORT) : some;
      return {
        ...common,
        refused: d.records.may?.refusedOf(drawn.rows, e, p.frame),
        searched: wantedOf(p.view['search']) !== '',
        empty: empty(p),
        ...(fetch && { fetch }),
        ...drawn,
      };
    };
  },
});

/** People may drag only where the list stands in the order that is written, and all of it is there. */
function orderField(e: { ordered?: string | undefined; runs: string; by?: string | undefined; query: Query }): string {
  const first = e.query.order[0];
  return e.ordered && e.runs === 'down' && !e.by && first?.by === e.ordered && !first.descending ? e.ordered : '';
}
