import { defineField } from '../../../core/fields/kind.ts';

export const text = defineField({
  type: 'text',
  name: 'text',
  patterned: true,
  column: 'text',
  serves: { title: 1, second: 2 },
});
