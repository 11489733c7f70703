import { VARIABLES, VARIABLES_RECORD } from '../document/ids.ts';
import { Records, type StoredRecord } from '../records/store.ts';
import type { Tables } from '../tables/names.ts';
import type { Table } from '../tables/schema.ts';

/** A way in which the records of an app may turn out: very many, with hardly a value filled in, or none. */
export type Trial = 'many' | 'missing' | 'none';

/** So many records a table has when a screen is tried with many. */
export const MANY = 5000;

/** What of a screen a trial turns on. */
export interface Tried {
  /** The tables whose records it shows. */
  tables: ReadonlySet<string>;
  /** What it asks of records, as the document writes it: its conditions, and how it finds the record it is about. */
  wants: string;
  /** The record it is given. */
  given: { table: string; record: string } | null;
}

/** The records of an app as they are in a trial; the app’s own stay as they are. Variables and app facts keep their values. */
export function tried(app: Tables, records: Records, trial: Trial, screen: Tried): Records {
  const made = new Records(app);
  made.beUsedBy(records.person, records.personRecord);
  const turned = { many: manyOf, missing: withoutValues(app, screen.wants), none: noneBut(records, screen) }[trial];
  for (const table of app.tables) {
    const stored = records.rows(table.id).map((r): StoredRecord => ({ id: r.id, cells: { ...r.cells } }));
    const isTried = !table.facts && (trial === 'missing' || screen.tables.has(table.id));
    made.load(table.id, isTried ? turned(stored, table) : stored);
  }
  const now = records.row(VARIABLES, VARIABLES_RECORD);
  if (now) made.load(VARIABLES, [{ id: VARIABLES_RECORD, cells: { ...now.cells } }]);
  return made;
}

type Turn = (stored: StoredRecord[], table: Table) => StoredRecord[];

/** With copies until there are many. Where there is no record, none is made up. */
const manyOf: Turn = (stored) => [
  ...stored,
  ...Array.from({ length: stored.length ? Math.max(0, MANY - stored.length) : 0 }, (_, i) => {
    const { id, cells } = stored[i % stored.length]!;
    return { id: `${id}+${Math.floor(i / stored.length)}`, cells: { ...cells } };
  }),
];

/**
 * Nothing is filled in but what leads from record to record, and what the screen asks of those it shows: without that
 * it would show none, which is another trial.
 */
function withoutValues(app: Tables, wants: string): Turn {
  const fields = app.tables.flatMap((t) => t.fields);
  const links = new Set(fields.flatMap((f) => (f.link ? [f.id, f.link.from, f.link.to] : [])));
  // What is asked of a formula field is asked of what it is worked out from.
  let asked = wants;
  const kept = new Set<string>();
  for (let before = -1; before < kept.size;) {
    before = kept.size;
    for (const f of fields)
      if (!kept.has(f.id) && asked.includes(f.id)) {
        kept.add(f.id);
        asked += ` ${f.formula ?? ''}`;
      }
  }
  const stays = (field: string): boolean => links.has(field) || kept.has(field);
  return (stored) =>
    stored.map(({ id, cells }) => ({ id, cells: Object.fromEntries(Object.entries(cells).filter(([f]) => stays(f))) }));
}

/** None but the record the screen is about, and those it leads to. */
function noneBut(records: Records, { given }: Tried): Turn {
  const row = given && records.row(given.table, given.record);
  const stays = new Set<unknown>(row ? [row.id, ...Object.values(row.cells).flat()] : []);
  return (stored) => stored.filter(({ id }) => stays.has(id));
}
