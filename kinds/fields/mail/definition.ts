import { defineField } from '../../../core/fields/kind.ts';

export const mail = defineField({
  type: 'mail',
  name: 'mail',
  patterned: true,
  phone: { type: 'email', inputMode: 'email' },
  column: 'mail address',
  grid: { width: 210 },
  serves: { title: 0.2, second: 1.5 },
});
