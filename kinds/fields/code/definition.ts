import { defineField } from '../../../core/fields/kind.ts';

export const code = defineField({
  type: 'code',
  name: 'scanned code',
  patterned: true,
  column: 'code',
});
