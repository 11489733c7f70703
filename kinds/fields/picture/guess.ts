import { defineGuess } from '../../../core/fields/guess.ts';

const PICTURE = /^(https?:\/\/\S+\.(png|jpe?g|gif|webp|svg|avif)(\?\S*)?|data:image\/\S+)$/i;

export default defineGuess({ order: 72, fits: ({ fits }) => fits((v) => PICTURE.test(v)) });
