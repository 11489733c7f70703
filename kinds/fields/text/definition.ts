import { defineField } from '../../../core/fields/kind.ts';

export const text = defineField({
  type: 'text',
  name: 'text',
  column: 'text',
  guess: { order: 100, fits: () => true },
});
