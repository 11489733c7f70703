import { defineGuess } from '../../../core/fields/guess.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';

const PACKED_DATE = /^(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\d|3[01])$/;

export default defineGuess({
  order: 40,
  // Eight digits that are all days, such as 20260123, are dates.
  fits: ({ fits, coded, decimal, unit, bare, values }) =>
    !coded &&
    !unit?.money &&
    !values.every((v) => PACKED_DATE.test(v)) &&
    fits((v) => readNumberText(bare(v), decimal) !== null),
});
