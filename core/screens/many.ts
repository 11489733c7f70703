import { VARIABLES, VARIABLES_RECORD } from '../document/ids.ts';
import { Records } from '../records/store.ts';
import type { Tables } from '../tables/names.ts';

/** So many records a table has when a screen is tried with many. */
export const MANY = 5000;

/**
 * The records of an app, with copies of them in these tables until each has so many. Tables without a record stay empty.
 * What the variables hold comes along.
 */
export function withMany(app: Tables, records: Records, tables: ReadonlySet<string>, many = MANY): Records {
  const made = new Records(app);
  made.person = records.person;
  for (const { id } of app.tables) {
    const rows = records.rows(id);
    const some = rows.map((r) => ({ id: r.id, cells: { ...r.cells } }));
    made.load(id, some);
    if (!tables.has(id) || rows.length === 0) continue;
    const copies = Array.from({ length: Math.max(0, many - rows.length) }, (_, i) => {
      const { id: of, cells } = some[i % some.length]!;
      return { id: `${of}+${Math.floor(i / some.length)}`, cells: { ...cells } };
    });
    made.load(id, copies);
  }
  const now = records.row(VARIABLES, VARIABLES_RECORD);
  if (now) made.load(VARIABLES, [{ id: VARIABLES_RECORD, cells: { ...now.cells } }]);
  return made;
}
