import { defineGuess } from '../../../core/fields/guess.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';

export default defineGuess({
  order: 20,
  fits: ({ fits, coded, decimal }) => !coded && fits((v) => v.endsWith('%') && readNumberText(v, decimal) !== null),
});
