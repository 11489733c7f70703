import { field, oneOf, optional, yesNo } from '../../../core/document/meaning.ts';
import { named, putTogether, type Group, type Named, type ReadField } from '../../../core/records/groups.ts';
import type { Row } from '../../../core/records/row.ts';
import type { Records } from '../../../core/records/store.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { sumOf } from '../../../core/screens/shown.ts';
import { begun, FILTERS, forEach, QUERY, searchAbove, whenEmpty } from '../of-records.ts';
import { recordsOf } from '../records-drawn.ts';
import type { Field } from '../../../core/tables/schema.ts';

/** So many records of a column are there at first, and so many more at each press. */
export const COLUMN_ROWS = 30;
/** Columns without records are there for the records of another table only while those are few. */
const FEW_LINKED = 12;

/** Records in columns by a field; dragged to another column they take its value. */
export const board = defineElement({
  kind: 'board',
  said: { name: 'Board', hint: 'records in columns' },
  needs: 'table',
  properties: {
    ...QUERY,
    by: field('what its columns go by', 'query', {
      unfilled: { severity: 'stops', said: 'what its columns go by is not chosen.' },
    }),
    sum: optional(field('the sum over a column', 'query')),
    drags: yesNo('dragging', { true: 'changes the column', false: 'is off' }),
    surface: oneOf('the card surface', { none: 'none', card: 'card', tint: 'tint' }),
    ...searchAbove('the board'),
    ...FILTERS,
    ...forEach('its cards', 50, 'its cards show nothing yet.'),
    ...whenEmpty('for an empty board'),
  },
}).does({
  begin: ({ table, row }) => ({
    ...begun(table, table ? [row(table)] : []),
    by: table?.fields.find((f) => f.choices)?.id ?? '',
    drags: true,
    surface: 'card',
    search: false,
  }),
  name: (e, naming) => `Board of ${naming.table(e.query.table)?.name ?? 'nothing yet'}`,
  notes(e, { tables }) {
    const by = tables.find((t) => t.id === e.query.table)?.fields.find((f) => f.id === e.by);
    return by && e.drags && !canDrag(by)
      ? [{ severity: 'look', said: `its cards cannot be dragged: ${by.name} is not one value that people may choose.` }]
      : [];
  },
  draw(e, d) {
    const shown = recordsOf(d, e);
    const by = readField(d, e.query.table, e.by);
    const sum = readField(d, e.query.table, e.sum);
    if (by?.field.link) d.reads(by.field.link.table);
    const drags = e.drags && by && canDrag(by.field) ? e.by : '';
    if (d.ruled && drags) d.reads(e.query.table);
    return (p) => {
      const { now, around } = shown(p);
      const { rows } = now;
      const more = moreOf(p.view['more']);
      const groups = by ? withEmpty(putTogether(rows, by), by, d.records) : [];
      let from = 0;
      const columns = groups.map((g) => ({
        key: g.key,
        label: g.label,
        /** What a record that is dragged here takes. */
        cell: g.cell,
        count: g.rows.length,
        sum: sumOf(g.rows, sum),
        /** Which of the rows are its: so many from this one on. */
        from: 0,
        shown: Math.min(g.rows.length, COLUMN_ROWS * (1 + (more[g.key] ?? 0))),
      }));
      for (const c of columns) {
        c.from = from;
        from += c.shown;
      }
      const drawn = groups.flatMap((g, i) => g.rows.slice(0, columns[i]!.shown));
      return {
        ...around,
        surface: e.surface,
        drags: drags !== '',
        /** The cards that may not be dragged. */
        stay: (drags && d.records.may?.refusedOf(drawn, { ordered: drags }, p.frame).ordered) || [],
        table: e.query.table,
        by: e.by,
        columns,
        rows: drawn,
      };
    };
  },
});

/** Only a single value that is kept with the record can be given by dragging. */
const canDrag = (f: Field): boolean =>
  !f.formula && !f.several && (f.type === 'choice' || f.type === 'yesno' || f.link?.kind === 'picked');

interface Column extends Group {
  cell: string | boolean | null;
}

/** The columns of a board: those with records, and every other that a record could be dragged to. */
function withEmpty(groups: Group[], by: ReadField, records: Records): Column[] {
  const { field } = by;
  const cellOf = (rows: readonly Row[]): Column['cell'] => {
    const v = rows.length ? by.get(rows[0]!) : null;
    const target = field.link && v !== null && typeof v === 'object' && 'id' in v ? v.id : v;
    return typeof target === 'string' || typeof target === 'boolean' ? target : null;
  };
  const columns = groups.map((g): Column => ({ ...g, cell: g.key === '' ? null : cellOf(g.rows) }));
  const there = new Set(columns.map((c) => c.key));
  const add = (it: Named, cell: Column['cell']): void => {
    if (!there.has(it.key)) columns.push({ ...it, cell, rows: [] });
  };
  for (const c of field.choices ?? []) add(named(c.name, field), c.name);
  if (field.type === 'yesno') for (const v of [true, false]) add(named(v, field), v);
  const linked = field.link ? records.rows(field.link.table) : [];
  if (linked.length <= FEW_LINKED) for (const row of linked) add(named(row, field), row.id);
  const missing = columns.findIndex((c) => c.key === '');
  const last = missing >= 0 ? columns.splice(missing, 1) : [];
  // Those that rank stand in their order, the others as they came.
  columns.sort((a, b) => (a.rank ?? Infinity) - (b.rank ?? Infinity) || 0);
  return [...columns, ...last];
}

/** How often a person asked for more of a column. */
function moreOf(view: unknown): Record<string, number> {
  if (typeof view !== 'object' || view === null) return {};
  return Object.fromEntries(
    Object.entries(view as Record<string, unknown>).map(([k, n]) => [
      k,
      typeof n === 'number' && n > 0 ? Math.floor(n) : 0,
    ]),
  );
}
