import { defineField } from '../../../core/fields/kind.ts';

export const web = defineField({
  type: 'web',
  name: 'web address',
  patterned: true,
  phone: { type: 'url', inputMode: 'url' },
  column: 'web address',
  grid: { width: 200 },
  guess: { order: 73, fits: ({ fits }) => fits((v) => /^https?:\/\/\S+\.\S+$/i.test(v)) },
});
