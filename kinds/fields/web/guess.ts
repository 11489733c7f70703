import { defineGuess } from '../../../core/fields/guess.ts';

export default defineGuess({ order: 73, fits: ({ fits }) => fits((v) => /^https?:\/\/\S+\.\S+$/i.test(v)) });
