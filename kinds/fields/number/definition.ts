import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { numberType, places, quoted, readNumber } from '../../../core/fields/numbers.ts';
import { readMeasure, readNumberText } from '../../../core/fields/read-number.ts';

const PACKED_DATE = /^(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\d|3[01])$/;

export const number = defineField({
  type: 'number',
  name: 'number',
  phone: { inputMode: 'decimal' },
  column: 'number',
  grid: { width: 100, figures: true },
  valueType: numberType,
  read: readNumber,
  typed: (text, { decimal }, f) => readMeasure(text, decimal, f.unit) ?? undefined,
  literal: String,
  numberFormat: (f) =>
    `${f.decimals === undefined ? 'General' : places(f.decimals)}${f.unit ? ` ${quoted(f.unit)}` : ''}`,
  inFile: (cell, style) => numberInFile(Number(cell), Number(cell), style),
  range: { times: 1, unit: '' },
  serves: { title: 0, figure: true },
  guess: {
    order: 40,
    // Eight digits that are all days, such as 20260123, are dates.
    fits: ({ fits, coded, decimal, unit, bare, values }) =>
      !coded &&
      !unit?.money &&
      !values.every((v) => PACKED_DATE.test(v)) &&
      fits((v) => readNumberText(bare(v), decimal) !== null),
  },
});
