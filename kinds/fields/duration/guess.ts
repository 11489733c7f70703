import { defineGuess } from '../../../core/fields/guess.ts';
import { reader } from '../../../core/fields/reader.ts';

export default defineGuess({
  order: 59,
  // Hours that go on past a day are no time of day.
  fits: ({ fits, values }) =>
    fits((v) => /[a-z]/i.test(v) && reader().readDurationText(v) !== null) ||
    (values.some((v) => /^-|^(?:2[4-9]|[3-9]\d|\d{3,}):/.test(v)) &&
      fits((v) => /^-?\d{1,4}:\d{2}(?::\d{2})?$/.test(v) && reader().readDurationText(v) !== null)),
});
