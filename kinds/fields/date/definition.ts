import { serialOf } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { reader } from '../../../core/fields/reader.ts';
import { dateText, parseDate } from '../../../core/formula/temporal.ts';
import { DATE } from '../../../core/formula/types.ts';

export const date = defineField({
  type: 'date',
  name: 'date',
  phone: { type: 'date' },
  column: 'date',
  grid: { width: 138 },
  valueType: () => DATE,
  read: (cell) => (typeof cell === 'string' ? parseDate(cell) : null),
  typed(text, { order, until }) {
    const alone = (): string => text.trim().split(/[T ]/)[0]!;
    const d =
      reader().readDateText(text, order, until) ??
      (reader().readDateTimeText(text, order) ? reader().readDateText(alone(), order, until) : null);
    return d ? dateText(d) : undefined;
  },
  // A date and time where a date is kept is what people mean by now().
  kept: (cell) => (typeof cell === 'string' ? cell.slice(0, 10) : cell),
  literal: (cell) => `@"${cell}"`,
  offers: () => [{ value: 'today()', label: 'today' }],
  numberFormat: () => 'yyyy-mm-dd',
  inFile(cell, style) {
    const d = parseDate(String(cell));
    return d ? { text: style.date(d), serial: serialOf(d.day) } : { text: String(cell) };
  },
  serves: { title: 0.15, second: 3.5, moment: true },
});
