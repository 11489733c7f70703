import { defineGuess } from '../../../core/fields/guess.ts';

export default defineGuess({ order: 100, fits: () => true });
