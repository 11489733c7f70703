import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { moneyText, numberType, quoted, readNumber } from '../../../core/fields/numbers.ts';
import { readMeasure } from '../../../core/fields/read-number.ts';

export const money = defineField({
  type: 'money',
  name: 'money',
  phone: { inputMode: 'decimal' },
  column: 'amount of money',
  grid: { width: 100, figures: true },
  usualUnit: '€',
  valueType: numberType,
  read: readNumber,
  typed: (text, { decimal }, f) => readMeasure(text, decimal, f.unit ?? '€') ?? undefined,
  literal: String,
  display: (v, f) => (typeof v === 'number' ? moneyText(v, f.unit ?? '€') : null),
  numberFormat: (f) =>
    /\p{L}\.?$/u.test(f.unit ?? '€') ? `#,##0.00 ${quoted(f.unit!)}` : `${quoted(f.unit ?? '€')}#,##0.00`,
  inFile: (cell, style) => numberInFile(Number(cell), Number(cell), style),
  range: { times: 1, unit: '' },
  serves: { figure: true },
});
