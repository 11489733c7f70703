import { defineGuess } from '../../../core/fields/guess.ts';
import { reader } from '../../../core/fields/reader.ts';

export default defineGuess({ order: 60, fits: ({ fits }) => fits((v) => reader().readTimeText(v) !== null) });
