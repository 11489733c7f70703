import { defineGuess } from '../../../core/fields/guess.ts';
import { reader } from '../../../core/fields/reader.ts';

export default defineGuess({
  order: 10,
  fits: ({ fits }) => fits((v) => reader().readYesNoText(v) !== null && !/^[01x-]$/i.test(v)),
});
