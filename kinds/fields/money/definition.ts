import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { centsNumber, numberType, quoted, readNumber } from '../../../core/fields/numbers.ts';
import { readNumberText } from '../../../core/fields/read-text.ts';

export const money = defineField({
  type: 'money',
  name: 'money',
  phone: { inputMode: 'decimal' },
  column: 'amount of money',
  grid: { width: 100, figures: true },
  valueType: numberType,
  read: readNumber,
  typed: (text, { decimal }) => readNumberText(text, decimal) ?? undefined,
  literal: String,
  display: (v, f) => (typeof v === 'number' ? `${v < 0 ? '-' : ''}${f.unit ?? '€'}${centsNumber(Math.abs(v))}` : null),
  numberFormat: (f) => `${quoted(f.unit ?? '€')}#,##0.00`,
  inFile: (cell, style) => numberInFile(Number(cell), Number(cell), style),
  range: { times: 1, unit: '' },
  serves: { figure: true },
  guess: {
    order: 30,
    fits: ({ fits, coded, decimal }) =>
      !coded && fits((v) => /^-?[€$£]|[€$£]$/.test(v) && readNumberText(v, decimal) !== null),
  },
});
