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
  guess: {
    order: 59,
    // Hours that go on past a day are no time of day.
    fits: ({ fits, values }) =>
      fits((v) => /[a-z]/i.test(v) && reader().readDurationText(v) !== null) ||
      (values.some((v) => /^-|^(?:2[4-9]|[3-9]\d|\d{3,}):/.test(v)) &&
        fits((v) => /^-?\d{1,4}:\d{2}(?::\d{2})?$/.test(v) && reader().readDurationText(v) !== null)),
  },
});
