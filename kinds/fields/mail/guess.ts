import { defineGuess } from '../../../core/fields/guess.ts';

const MAIL = /^[^\s@<>,;]+@[^\s@<>,;]+\.[^\s@<>,;]+$/;

export default defineGuess({ order: 71, fits: ({ fits }) => fits((v) => MAIL.test(v)) });
