import { elements, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** As many tables as one search offers at first. */
const FIRST_TABLES = 12;

/** One search box over several lists: each shows what of its table the words are found in, under its own head. */
export const search = defineElement({
  kind: 'search',
  said: { name: 'Search of several lists', hint: 'one box over several tables' },
  needs: 'table',
  properties: {
    hint: words('the hint in the box'),
    before: words('the words before anything is typed'),
    none: words('the words when nothing is found', {
      unfilled: { severity: 'look', said: 'the words for nothing found are missing.' },
    }),
    children: elements('its lists', 12, { unfilled: { severity: 'look', said: 'it has no lists to search yet.' } }),
  },
}).does({
  begin: ({ tables, fresh, row }) => ({
    hint: 'Search everything',
    before: '',
    none: 'Nothing was found.',
    children: tables
      .filter((t) => !t.facts)
      .slice(0, FIRST_TABLES)
      .map((t) =>
        fresh('list', {
          name: t.name,
          query: { table: t.id, where: { match: 'all', conditions: [] }, order: [], limit: null },
          children: [row(t)],
        }),
      ),
  }),
  notes: (e) =>
    e.children.some((c) => c.kind !== 'list' && c.kind !== 'table')
      ? [{ severity: 'look', said: 'only lists and tables in it are searched.' }]
      : [],
  draw(e, d) {
    const hint = d.words(e.hint);
    const before = d.words(e.before);
    const none = d.words(e.none);
    // What each list is called stands over its hits: its own name, or that of its table.
    const heads = e.children.map((c) => {
      const { table } = (c as unknown as { query?: { table: string } }).query ?? {};
      return c.name ?? (table ? (d.records.model.tables.get(table)?.table.name ?? '') : '');
    });
    return (p) => ({ hint: hint(p), before: before(p), none: none(p), heads });
  },
});
