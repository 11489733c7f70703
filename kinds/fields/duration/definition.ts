import { exactDuration } from '../../../core/fields/durations.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { reader } from '../../../core/fields/reader.ts';
import { durationText, parseDuration } from '../../../core/formula/temporal.ts';
import { DAYS } from '../../../core/formula/types.ts';
import { DaysDuration } from '../../../core/formula/values.ts';

export const duration = defineField({
  type: 'duration',
  name: 'duration',
  phone: { placeholder: '1 h 30 min' },
  column: 'duration',
  grid: { width: 130, figures: true },
  valueType: () => DAYS,
  read(cell) {
    const d = typeof cell === 'string' ? parseDuration(cell) : null;
    return d instanceof DaysDuration ? d : null;
  },
  typed(text) {
    const d = reader().readDurationText(text);
    return d ? durationText(d) : undefined;
  },
  formText(cell) {
    const d = typeof cell === 'string' ? parseDuration(cell) : null;
    return d instanceof DaysDuration ? exactDuration(d) : null;
  },
  editText(cell) {
    const d = typeof cell === 'string' ? parseDuration(cell) : null;
    return d instanceof DaysDuration ? exactDuration(d) : String(cell ?? '');
  },
  literal: (cell) => `@"${cell}"`,
  numberFormat: () => '[h]:mm',
  inFile(cell) {
    const d = parseDuration(String(cell));
    return d instanceof DaysDuration ? { text: exactDuration(d), days: d.ms / 86_400_000 } : { text: String(cell) };
  },
});
