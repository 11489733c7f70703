import { defineGuess } from '../../../core/fields/guess.ts';
import { reader } from '../../../core/fields/reader.ts';

export default defineGuess({
  order: 50,
  fits: ({ fits, order }) => fits((v) => reader().readDateText(v, order) !== null),
  asksDayOrder: true,
});
