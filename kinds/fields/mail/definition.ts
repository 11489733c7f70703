import { defineField } from '../../../core/fields/kind.ts';

const MAIL = /^[^\s@<>,;]+@[^\s@<>,;]+\.[^\s@<>,;]+$/;

export const mail = defineField({
  type: 'mail',
  name: 'mail',
  patterned: true,
  phone: { type: 'email', inputMode: 'email' },
  column: 'mail address',
  grid: { width: 210 },
  serves: { title: 0.2, second: 1.5 },
  guess: { order: 71, fits: ({ fits }) => fits((v) => MAIL.test(v)) },
});
