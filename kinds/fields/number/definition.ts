import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { numberType, places, quoted, readNumber } from '../../../core/fields/numbers.ts';
import { readNumberText } from '../../../core/fields/read-text.ts';

export const number = defineField({
  type: 'number',
  name: 'number',
  phone: { inputMode: 'decimal' },
  column: 'number',
  grid: { width: 100, figures: true },
  valueType: numberType,
  read: readNumber,
  typed: (text, { decimal }) => readNumberText(text, decimal) ?? undefined,
  literal: String,
  numberFormat: (f) =>
    `${f.decimals === undefined ? 'General' : places(f.decimals)}${f.unit ? ` ${quoted(f.unit)}` : ''}`,
  inFile: (cell, style) => numberInFile(Number(cell), Number(cell), style),
  range: { times: 1, unit: '' },
  serves: { title: 0, figure: true },
  guess: {
    order: 40,
    fits: ({ fits, coded, decimal, name }) =>
      !coded && fits((v) => readNumberText(v, decimal) !== null) && !/phone|mobile|^tel/i.test(name),
  },
});
