import { defineGuess } from '../../../core/fields/guess.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';

export default defineGuess({
  order: 30,
  fits: ({ fits, coded, decimal, unit, bare }) =>
    !coded && unit?.money === true && fits((v) => readNumberText(bare(v), decimal) !== null),
});
