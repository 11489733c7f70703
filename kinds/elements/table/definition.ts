import { fields, optional, field } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { compareKey, sortKey } from '../../../core/records/order.ts';
import type { Row } from '../../../core/records/row.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { sumOf, type ShownRecords } from '../../../core/screens/shown.ts';
import { begun, FILTERS, forEach, QUERY, searchAbove, whenEmpty } from '../of-records.ts';
import { recordsOf } from '../records-drawn.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';

const FIRST_ROWS = 60;
/** The width of a column is found from so many records, and kept within these, in characters. */
const MEASURED = 200;
const [NARROWEST, WIDEST] = [4, 26];
const whole = (n: unknown, otherwise: number): number =>
  typeof n === 'number' && Number.isFinite(n) ? Math.max(0, Math.floor(n)) : otherwise;

/** Records as lines with a column for each of some fields. */
export const table = defineElement({
  kind: 'table',
  said: { name: 'Table', hint: 'records in lines and columns' },
  needs: 'table',
  properties: {
    ...QUERY,
    columns: fields('its columns', 'query', { unfilled: { severity: 'look', said: 'it has no columns yet.' } }),
    sum: optional(field('the sum below it', 'query')),
    ...searchAbove('the table'),
    ...FILTERS,
    ...forEach('what stands at the end of its lines', 4),
    ...whenEmpty('for an empty table'),
  },
}).does({
  begin: ({ table: t }) => ({
    ...begun(t, []),
    columns: (t?.fields ?? [])
      .filter((f) => !fieldKind(f.type).holdsFile && f.type !== 'longtext')
      .slice(0, 4)
      .map((f) => f.id),
    search: false,
  }),
  name: (e, naming) => `Table of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  draw(e, d) {
    const shown = recordsOf(d, e);
    const columns = e.columns.flatMap((id) => readField(d, e.query.table, id) ?? []);
    const sum = readField(d, e.query.table, e.sum);
    const heads = columns.map(({ field: f }) => ({
      field: f.id,
      label: f.name,
      isFigure: fieldKind(f.type).range !== undefined || fieldKind(f.type).grid?.figures === true,
    }));
    const widths = new WeakMap<ShownRecords, number[]>();
    const widthsOf = (now: ShownRecords): number[] => {
      const known = widths.get(now);
      if (known) return known;
      const first = now.rows.slice(0, MEASURED);
      const made = columns.map((c) =>
        first.reduce(
          (most, r) => Math.min(WIDEST, Math.max(most, display(c.get(r), c.field).length)),
          Math.max(NARROWEST, Math.min(WIDEST, c.field.name.length + 2)),
        ),
      );
      widths.set(now, made);
      return made;
    };
    const ordered = new WeakMap<ShownRecords, { by: string; rows: readonly Row[] }>();
    return (p) => {
      const { now, around } = shown(p);
      const order = orderOf(p.view['order']);
      const by = order && columns.find((c) => c.field.id === order.field);
      const asked = by ? JSON.stringify(order) : '';
      let known = ordered.get(now);
      if (known?.by !== asked) {
        const keyed = by && now.rows.map((row, at) => ({ row, at, key: sortKey(by.get(row)) }));
        keyed?.sort((a, b) => compareKey(a.key, b.key, order!.descending ? -1 : 1) || a.at - b.at);
        known = { by: asked, rows: keyed ? keyed.map((k) => k.row) : now.rows };
        ordered.set(now, known);
      }
      const total = now.rows.length;
      const from = Math.min(whole(p.view['from'], 0), Math.max(0, total - 1));
      const rows = known.rows.slice(from, from + whole(p.view['count'], FIRST_ROWS));
      return {
        ...around,
        heads,
        widths: widthsOf(now),
        order: by ? order : null,
        from,
        total,
        sum: sum ? { label: sum.field.name, said: sumOf(now.rows, sum) } : null,
        cells: rows.map((row) => columns.map((c) => display(c.get(row), c.field))),
        rows,
      };
    };
  },
});

/** The column a person pressed to order by. */
function orderOf(view: unknown): { field: string; descending: boolean } | null {
  if (typeof view !== 'object' || view === null) return null;
  const { field: by, descending } = view as Record<string, unknown>;
  return typeof by === 'string' ? { field: by, descending: descending === true } : null;
}
