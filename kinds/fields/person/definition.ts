import { defineField } from '../../../core/fields/kind.ts';

export const person = defineField({
  type: 'person',
  name: 'person',
  phone: { autoComplete: 'name' },
  column: 'person',
});
