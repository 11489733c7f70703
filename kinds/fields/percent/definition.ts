import { numberInFile } from '../../../core/fields/file-cell.ts';
import { defineField } from '../../../core/fields/kind.ts';
import { fixedNumber, numberType, places, plainNumber, readNumber } from '../../../core/fields/numbers.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';
import { fix } from '../../../core/formula/number.ts';

export const percent = defineField({
  type: 'percent',
  name: 'percent',
  phone: { inputMode: 'decimal' },
  column: 'percent',
  grid: { width: 90, figures: true },
  valueType: numberType,
  read: readNumber,
  typed(text, { decimal }) {
    const n = readNumberText(text, decimal);
    return n === null ? undefined : fix(n / 100);
  },
  literal: String,
  display: (v, f) =>
    typeof v === 'number'
      ? `${f.decimals === undefined ? plainNumber(fix(v * 100)) : fixedNumber(fix(v * 100), f.decimals)} %`
      : null,
  limit: (n) => `${fix(n * 100)} %`,
  formText: (cell) => (typeof cell === 'number' ? `${fix(cell * 100)} %` : cell),
  editText: (cell) => (typeof cell === 'number' ? `${fix(cell * 100)} %` : String(cell ?? '')),
  fileText: (v) => (typeof v === 'number' ? `${fix(v * 100)}%` : null),
  numberFormat: (f) => (f.decimals === undefined ? '0.##%' : `${places(f.decimals)}%`),
  inFile: (cell, style) =>
    numberInFile(fix(Number(cell) * 100), Number(cell), style.after.includes('%') ? style : { ...style, after: '%' }),
  range: { times: 100, unit: 'percent' },
});
