import { defineField } from '../../../core/fields/kind.ts';

export const phone = defineField({
  type: 'phone',
  name: 'phone',
  patterned: true,
  phone: { type: 'tel', inputMode: 'tel' },
  column: 'phone number',
  serves: { second: 1 },
});
