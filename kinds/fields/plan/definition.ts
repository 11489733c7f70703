import { defineField } from '../../../core/fields/kind.ts';
import { readPlanText } from '../../../core/fields/read-place.ts';
import { NUMBER, type Type } from '../../../core/formula/types.ts';
import { newContext } from '../../../core/formula/values.ts';

const PLACE: Type = { k: 'context', entries: { x: NUMBER, y: NUMBER } };

export const plan = defineField({
  type: 'plan',
  name: 'place on a plan',
  column: 'place on a plan',
  grid: { width: 180 },
  valueType: () => PLACE,
  read(cell) {
    const place = typeof cell === 'string' ? readPlanText(cell) : null;
    return place && newContext(Object.entries(place));
  },
  typed(text) {
    const p = readPlanText(text);
    return p ? `${p.x},${p.y}` : undefined;
  },
  editText: (cell) => String(cell ?? '').replace(',', ', '),
});
