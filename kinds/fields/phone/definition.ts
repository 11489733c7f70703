import { defineField } from '../../../core/fields/kind.ts';

export const phone = defineField({
  type: 'phone',
  name: 'phone',
  patterned: true,
  phone: { type: 'tel', inputMode: 'tel' },
  column: 'phone number',
  serves: { second: 1 },
  guess: {
    order: 74,
    fits: ({ fits, name, values }) =>
      fits((v) => /^\+?[\d\s()/.-]{6,20}$/.test(v)) &&
      (/phone|mobile|^tel/i.test(name) || values.some((v) => /^\+|^0\d[\d\s]{7,}/.test(v))),
  },
});
