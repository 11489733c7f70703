import { defineGuess } from '../../../core/fields/guess.ts';
import { readPlaceText } from '../../../core/fields/read-place.ts';

export default defineGuess({
  order: 70,
  fits: ({ fits }) => fits((v) => /\d[.]\d.*[,;].*\d[.]\d/.test(v) && readPlaceText(v) !== null),
});
