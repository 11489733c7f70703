import { defineField } from '../../../core/fields/kind.ts';

export const web = defineField({
  type: 'web',
  name: 'web address',
  patterned: true,
  phone: { type: 'url', inputMode: 'url' },
  column: 'web address',
  grid: { width: 200 },
});
