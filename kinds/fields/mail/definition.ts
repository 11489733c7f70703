import { defineField } from '../../../core/fields/kind.ts';

const MAIL = /^[^\s@<>,;]+@[^\s@<>,;]+\.[^\s@<>,;]+$/;

export const mail = defineField({
  type: 'mail',
  name: 'mail',
  phone: { type: 'email', inputMode: 'email' },
  column: 'mail address',
  grid: { width: 210 },
  guess: { order: 71, fits: ({ fits }) => fits((v) => MAIL.test(v)) },
});
