import { momentInFile } from '../../../core/fields/kept-time.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { reader } from '../../../core/fields/reader.ts';
import { dateTimeText, parseDateTime } from '../../../core/formula/temporal.ts';
import { DATETIME } from '../../../core/formula/types.ts';
import { DateTime } from '../../../core/formula/values.ts';

export const dateTime = defineField({
  type: 'datetime',
  name: 'date and time',
  phone: { type: 'datetime-local' },
  column: 'date and time',
  grid: { width: 178 },
  valueType: () => DATETIME,
  read: (cell) => (typeof cell === 'string' ? parseDateTime(cell) : null),
  typed(text, { order, until }) {
    const d = reader().readDateText(text, order, until);
    const dt = reader().readDateTimeText(text, order, until) ?? (d && new DateTime(d.day * 86_400_000));
    return dt ? dateTimeText(dt) : undefined;
  },
  kept: (cell) => (typeof cell === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(cell) ? `${cell}T00:00:00` : cell),
  editText: (cell) => String(cell ?? '').slice(0, 16),
  literal: (cell) => `@"${cell}"`,
  offers: () => [{ value: 'now()', label: 'now' }],
  numberFormat: () => 'yyyy-mm-dd hh:mm',
  inFile: momentInFile,
  serves: { title: 0.15, second: 3.5, moment: true },
});
