import { defineField } from '../../../core/fields/kind.ts';
import { parseDateTime } from '../../../core/formula/temporal.ts';
import { DATETIME } from '../../../core/formula/types.ts';

export const created = defineField({
  type: 'created',
  name: 'time of making',
  keptByApp: true,
  grid: { width: 178 },
  valueType: () => DATETIME,
  read: (cell) => (typeof cell === 'string' ? parseDateTime(cell) : null),
  typed: () => undefined,
  numberFormat: () => 'yyyy-mm-dd hh:mm',
});
