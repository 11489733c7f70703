import { defineField } from '../../../core/fields/kind.ts';

const PICTURE = /^(https?:\/\/\S+\.(png|jpe?g|gif|webp|svg|avif)(\?\S*)?|data:image\/\S+)$/i;

export const picture = defineField({
  type: 'picture',
  name: 'picture address',
  holdsFile: true,
  column: 'picture address',
  grid: { width: 90 },
  serves: { picture: true },
  guess: { order: 72, fits: ({ fits }) => fits((v) => PICTURE.test(v)) },
});
