import { defineField } from '../../../core/fields/kind.ts';
import { reader } from '../../../core/fields/reader.ts';
import { parseTime, timeText } from '../../../core/formula/temporal.ts';
import { TIME } from '../../../core/formula/types.ts';

export const time = defineField({
  type: 'time',
  name: 'time',
  phone: { type: 'time' },
  column: 'time',
  grid: { width: 84 },
  valueType: () => TIME,
  read: (cell) => (typeof cell === 'string' ? parseTime(cell) : null),
  typed(text) {
    const t = reader().readTimeText(text);
    return t ? timeText(t) : undefined;
  },
  literal: (cell) => `@"${cell}"`,
  numberFormat: () => 'hh:mm',
  inFile(cell) {
    const t = parseTime(String(cell));
    return { text: String(cell).slice(0, 5), ...(t && { serial: t.ms / 86_400_000 }) };
  },
});
