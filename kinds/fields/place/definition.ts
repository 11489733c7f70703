import { defineField } from '../../../core/fields/kind.ts';
import { readPlaceText } from '../../../core/fields/read-place.ts';
import { NUMBER, type Type } from '../../../core/formula/types.ts';
import { newContext } from '../../../core/formula/values.ts';

const PLACE: Type = { k: 'context', entries: { latitude: NUMBER, longitude: NUMBER } };

export const place = defineField({
  type: 'place',
  name: 'place',
  column: 'place',
  grid: { width: 190 },
  valueType: () => PLACE,
  read(cell) {
    const place = typeof cell === 'string' ? readPlaceText(cell) : null;
    return place && newContext(Object.entries(place));
  },
  typed(text) {
    const p = readPlaceText(text);
    return p ? `${p.latitude},${p.longitude}` : undefined;
  },
  editText: (cell) => String(cell ?? '').replace(',', ', '),
});
