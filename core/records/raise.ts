import { exactSum } from '../formula/number.ts';
import { fieldKind } from '../fields/kinds.ts';
import type { Cell } from '../fields/lists.ts';
import type { Field } from '../tables/schema.ts';
import { isWritable } from './cells.ts';
import type { Draft } from './change.ts';
import type { Cells, Records } from './store.ts';

/** Can amounts be added to this field? To fields that keep numbers, and are written by people. */
export const canRaise = (field: Field): boolean =>
  isWritable(field) && !field.several && fieldKind(field.type).valueType(field).k === 'number';

/** The number that an amount makes of a cell, exactly; an empty cell counts as 0. Throws in words where it cannot be kept. */
export const raised = (cell: Cell | undefined, ...amounts: number[]): number => {
  const sum = exactSum([typeof cell === 'number' ? cell : 0, ...amounts]);
  if (sum === null) throw new Error('The sum has more digits than can be kept exactly.');
  return sum;
};

/** The cells that a change makes, from the record as it is; none for a record that goes. */
export function cellsAfter(records: Records, d: Draft): Cells {
  if (d.do === 'remove') return {};
  if (d.do !== 'raise') return d.cells ?? {};
  const row = records.row(d.table, d.record);
  const cells: Cells = { ...(!row && d.makes), ...d.cells };
  for (const [field, by] of Object.entries(d.by)) cells[field] = raised(row?.cells[field], by);
  return cells;
}
