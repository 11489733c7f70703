import { T } from '../records/fixture.ts';
import type { Records } from '../records/store.ts';

/** All records by table and id, to compare. */
export const contents = (r: Records): unknown =>
  Object.fromEntries(
    [T.hives, T.visits, T.keepers].map((t) => [
      t,
      Object.fromEntries(r.rows(t).map((row) => [row.id, Object.fromEntries(Object.entries(row.cells).sort())])),
    ]),
  );
