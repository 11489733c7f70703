import { defineField } from '../../../core/fields/kind.ts';

export const person = defineField({
  type: 'person',
  name: 'person',
  patterned: true,
  phone: { autoComplete: 'name' },
  isUser: true,
  column: 'person',
});
