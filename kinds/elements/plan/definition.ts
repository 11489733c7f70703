import { field, formula, optional } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { readField } from '../../../core/screens/read-field.ts';
import { begun, FILTERS, forEach, QUERY, whenEmpty } from '../of-records.ts';
import { recordsOf } from '../records-drawn.ts';
import type { Land } from './geojson.ts';
import { landAt, pathsOf, positionsOf } from './land.ts';
import { onMap, onPlan } from './marks.ts';

/** More marks than this cover one another; the rest is told. */
const MOST_MARKS = 1000;

/** Records as marks on a picture, or on a map of their own; the one that is pressed stands below. */
export const plan = defineElement({
  kind: 'plan',
  said: { name: 'Plan or map', hint: 'records where they are' },
  needs: 'table',
  properties: {
    ...QUERY,
    at: field('where a record is', 'query', {
      unfilled: { severity: 'stops', said: 'which field says where a record is, is not chosen.' },
    }),
    /** Without one a plan shows the picture of its field, and a map a plain ground. */
    ground: optional(formula('the picture of the ground', 'picture')),
    /** The address of GeoJSON that a map's ground is drawn from. */
    land: optional(formula('the drawn ground', 'any')),
    ...FILTERS,
    ...forEach('what stands below of the mark that is pressed', 50, 'nothing is shown of a mark that is pressed.'),
    ...whenEmpty('when nothing has a place', 'a plan without marks'),
  },
}).does({
  begin: ({ table, row }) => ({
    ...begun(table, table ? [row(table)] : []),
    at: table?.fields.find((f) => f.type === 'plan' || f.type === 'place')?.id ?? '',
    empty: 'Nothing here has a place yet.',
  }),
  name: (e, naming) => `${naming.table(e.query.table)?.name ?? 'Nothing yet'} on a plan`,
  notes(e, { tables }) {
    const at = tables.find((t) => t.id === e.query.table)?.fields.find((f) => f.id === e.at);
    return at && at.type !== 'plan' && at.type !== 'place'
      ? [{ severity: 'stops', said: `${at.name} holds no places.` }]
      : [];
  },
  draw(e, d) {
    const shown = recordsOf(d, e);
    const at = readField(d, e.query.table, e.at);
    const title = readField(d, e.query.table, d.records.model.tables.get(e.query.table)?.table.titleField ?? undefined);
    const own = d.formula(e.ground ?? '');
    const drawn = d.formula(e.land ?? '');
    const isMap = at?.field.type === 'place';
    // Its file is read once, not whenever marks change.
    let read: { address: string; land: Land | null } | null = null;
    const landOf = (address: string): Land | null =>
      (read?.address === address ? read : (read = { address, land: landAt(address) })).land;
    return (p) => {
      const { now, around } = shown(p);
      const { rows } = now;
      const label = (r: (typeof rows)[number]): string => (title ? display(title.get(r), title.field) : r.title());
      const some = rows.slice(0, MOST_MARKS);
      const from = isMap ? drawn.at(p) : null;
      const land = typeof from === 'string' && from ? landOf(d.address(from)) : null;
      const map = at && isMap ? onMap(some, at.get, label, land ? positionsOf(land) : []) : null;
      const marks = map?.marks ?? (at ? onPlan(some, at.get, label) : []);
      const picked = own.at(p);
      const chosen = marks.some((m) => m.record === p.view['mark'])
        ? rows.find((r) => r.id === p.view['mark'])
        : undefined;
      return {
        ...around,
        ground: d.address(typeof picked === 'string' && picked ? picked : isMap ? '' : (at?.field.plan ?? '')),
        ratio: map?.ground.ratio ?? null,
        scale: map?.ground.scale ?? null,
        land: land && map?.project ? pathsOf(land, map.project) : null,
        marks,
        without: rows.length - marks.length,
        chosen: chosen?.id ?? null,
        rows: chosen ? [chosen] : [],
      };
    };
  },
});
