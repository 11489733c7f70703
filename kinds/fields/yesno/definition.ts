import { defineField } from '../../../core/fields/kind.ts';
import { booleanType } from '../../../core/fields/numbers.ts';
import { reader } from '../../../core/fields/reader.ts';

export const yesNo = defineField({
  type: 'yesno',
  name: 'yes/no',
  phone: { labelled: true },
  column: 'yes or no',
  grid: { width: 84, toggles: true },
  valueType: booleanType,
  empty: (f) => (f.unknown ? null : false),
  read: (cell) => (typeof cell === 'boolean' ? cell : null),
  typed: (text) => reader().readYesNoText(text) ?? undefined,
  literal: String,
  offers: () => [
    { value: 'true', label: 'yes' },
    { value: 'false', label: 'no' },
  ],
  inFile: (cell, style) => ({ text: cell === true ? style.yes : style.no, bool: cell === true }),
  repeats: true,
});
