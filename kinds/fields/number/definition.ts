import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { numberType, places, quoted, readNumber } from '../../../core/fields/numbers.ts';
import { readMeasure } from '../../../core/fields/read-number.ts';

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
});
