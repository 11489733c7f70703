import type { Thing } from '../../core/records/model.ts';

/** Where a formula stands: on a table's record, and with these things in reach. */
export interface FormulaPlace {
  self: string | null;
  things: readonly Thing[];
  /** Nothing of the app can be named here, as where a service is asked. */
  alone?: true;
}

/** The table of the nearest record in reach. */
export function nearestTable(place: FormulaPlace): string | null {
  const type = place.things.findLast((t) => t.type.k === 'record')?.type;
  return type?.k === 'record' ? type.table : null;
}
