import { defineField } from '../../../core/fields/kind.ts';
import { numberType, readNumber } from '../../../core/fields/numbers.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';

const isRating = (n: unknown): boolean => typeof n === 'number' && Number.isInteger(n) && n >= 1 && n <= 5;

export const rating = defineField({
  type: 'rating',
  name: 'rating',
  column: 'rating from 1 to 5',
  grid: { width: 110, figures: true },
  usualUnit: '★',
  valueType: numberType,
  // A rating is a whole number from 1 to 5; anything else is none.
  read: (cell) => (isRating(readNumber(cell)) ? (cell as number) : null),
  typed(text, { decimal }) {
    const stars = [...text.trim()];
    const n = stars.every((c) => c === '★' || c === '☆')
      ? stars.filter((c) => c === '★').length
      : readNumberText(text, decimal);
    return isRating(n) ? n! : undefined;
  },
  literal: String,
  display: (v) => (isRating(v) ? `${'★'.repeat(v as number)}${'☆'.repeat(5 - (v as number))}` : null),
  editText: (cell) => String(cell ?? ''),
  fileText: (v) => (typeof v === 'number' ? String(v) : null),
});
