import { allOf } from '../../../core/document/queries.ts';
import { field, oneOf, optional, query, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import type { Row } from '../../../core/records/row.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { pointsOf, type Asked } from './points.ts';

/** Figures of many records as bars, a line, an area or a ring, or one of them as a large number. */
export const chart = defineElement({
  kind: 'chart',
  said: { name: 'Chart', hint: 'figures of many records' },
  needs: 'table',
  properties: {
    title: words('the title'),
    query: query('its table', { unfilled: { severity: 'stops', said: 'its table is not chosen.' } }),
    look: oneOf('the look', { number: 'Number', bars: 'Bars', line: 'Line', area: 'Area', ring: 'Ring' }),
    figure: oneOf('the figure', {
      count: 'how many',
      filled: 'how many filled in',
      sum: 'the sum',
      average: 'the average',
      lowest: 'the lowest',
      highest: 'the highest',
    }),
    /** What is measured; without it records are counted. */
    of: optional(field('what is measured', 'query')),
    /** What the records are put together by. */
    by: optional(field('what it is grouped by', 'query')),
  },
}).does({
  begin: ({ table }) => ({
    title: table?.name ?? '',
    query: allOf(table?.id ?? ''),
    look: 'number',
    figure: 'count',
  }),
  name: (e, naming) => naming.words(e.title) || `Chart of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  notes(e, { tables }) {
    const table = tables.find((t) => t.id === e.query.table);
    if (!table) return [];
    const has = (id: string | undefined): boolean => table.fields.some((f) => f.id === id);
    return [
      ...(e.look !== 'number' && !has(e.by)
        ? [{ severity: 'look' as const, said: 'what it is grouped by is not chosen.' }]
        : []),
      ...(e.figure !== 'count' && !has(e.of)
        ? [{ severity: 'look' as const, said: 'what it measures is not chosen.' }]
        : []),
    ];
  },
  draw(e, d) {
    const title = d.words(e.title);
    const query = d.query(e.query);
    const asked: Asked = {
      figure: e.figure,
      by: e.look === 'number' ? null : readField(d, e.query.table, e.by),
      of: e.figure === 'count' ? null : readField(d, e.query.table, e.of),
      goesOn: e.look === 'line' || e.look === 'area',
    };
    return (p) => {
      const { rows, total } = query(p).part(0, query(p).most());
      const { points, left } = pointsOf(rows as Row[], asked);
      // A part of a ring cannot be less than nothing; a bar can.
      const look = e.look === 'ring' && points.some((x) => x.value !== null && x.value < 0) ? 'bars' : e.look;
      return { title: title(p), look, records: total, points, left };
    };
  },
});
