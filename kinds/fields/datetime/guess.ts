import { defineGuess } from '../../../core/fields/guess.ts';
import { reader } from '../../../core/fields/reader.ts';

export default defineGuess({
  order: 55,
  fits: ({ fits, order }) =>
    fits((v) => reader().readDateTimeText(v, order) !== null || reader().readDateText(v, order) !== null),
  asksDayOrder: true,
});
