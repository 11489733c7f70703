import { putTogether, type Group } from '../../../core/records/groups.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { shownRecords, sumOf } from '../../../core/screens/shown.ts';
import { useArranging } from './arranging.ts';
import { linesOf } from './lines.ts';

// Taken into use by being loaded, before a screen is drawn that needs it.
useArranging((e, d) => {
  const shown = shownRecords(d, e);
  const by = e.runs === 'down' ? readField(d, e.query.table, e.by) : null;
  const sum = readField(d, e.query.table, by ? e.sum : undefined);
  const asTheyCome = e.query.order[0]?.by === e.by;
  const together = new WeakMap<object, Group[]>();
  return (p, from, count) => {
    const now = shown(p);
    const { rows, filters, filtered } = now;
    const all = { filters, filtered, records: rows.length };
    if (!by) {
      const at = Math.min(from, Math.max(0, rows.length - 1));
      return { ...all, heads: [], total: rows.length, from: at, rows: rows.slice(at, at + count) };
    }
    const groups = together.get(now) ?? putTogether(rows, by, { asTheyCome });
    together.set(now, groups);
    const lines = groups.reduce((n, g) => n + 1 + g.rows.length, 0);
    const at = Math.min(from, Math.max(0, lines - 1));
    return { ...all, ...linesOf(groups, at, count, (r) => sumOf(r, sum)) };
  };
});
