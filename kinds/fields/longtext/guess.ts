import { defineGuess } from '../../../core/fields/guess.ts';

export default defineGuess({
  order: 80,
  fits: ({ values }) => values.filter((v) => v.length > 80 || v.includes('\n')).length > values.length * 0.2,
});
