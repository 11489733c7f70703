import { allOf } from '../../../core/document/queries.ts';
import { elements, number, oneOf, query, tap, words, yesNo } from '../../../core/document/meaning.ts';
import type { Query } from '../../../core/document/pieces.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

const FIRST_ROWS = 40;
const whole = (n: unknown, otherwise: number): number =>
  typeof n === 'number' && Number.isFinite(n) ? Math.max(0, Math.floor(n)) : otherwise;

export const list = defineElement({
  kind: 'list',
  said: { name: 'List', hint: 'records' },
  needs: 'table',
  properties: {
    query: query('its table', { unfilled: { severity: 'stops', said: 'its table is not chosen.' } }),
    runs: oneOf('how it runs', { down: 'Down', grid: 'Grid', across: 'Across' }),
    gap: number('the gap', 0, 64),
    surface: oneOf('the row surface', { none: 'none', card: 'card', tint: 'tint' }),
    search: yesNo('the search box', { true: 'above the list', false: 'none' }),
    empty: words('the words for an empty list', {
      unfilled: { severity: 'look', said: 'the words for an empty list are missing.' },
    }),
    tap: tap('a tap', { inside: 'children' }),
    children: elements('its rows', 50, {
      each: true,
      brings: (e) => ({ row: (e['query'] as Query).table }),
      unfilled: { severity: 'look', said: 'its rows show nothing yet.' },
    }),
  },
}).does({
  begin: ({ table, row }) => ({
    query: allOf(table?.id ?? ''),
    runs: 'down',
    gap: 8,
    surface: 'card',
    search: false,
    empty: 'Nothing here yet.',
    tap: { do: 'nothing' },
    children: table ? [row(table)] : [],
  }),
  name: (e, naming) => `List of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  draw(e, d) {
    const query = d.query(e.query, e.search);
    const empty = d.words(e.empty);
    const limit = e.query.limit ?? Infinity;
    return (p) => {
      // What the person did to it: the part of the list in view, and what is looked for.
      const from = Math.min(whole(p.view['from'], 0), limit - 1);
      const count = Math.min(whole(p.view['count'], FIRST_ROWS), limit - from);
      const part = query(p).part(from, count, p.view['search']);
      const total = Math.min(part.total, limit);
      return {
        runs: e.runs,
        gap: e.gap,
        surface: e.surface,
        search: e.search,
        empty: empty(p),
        tap: tapped(e.tap),
        total,
        from: Math.min(from, Math.max(0, total - 1)),
        rows: part.rows,
      };
    };
  },
});
