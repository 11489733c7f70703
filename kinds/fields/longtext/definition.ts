import { defineField } from '../../../core/fields/kind.ts';

export const longText = defineField({
  type: 'longtext',
  name: 'long text',
  patterned: true,
  column: 'text',
  lines: true,
  serves: { title: 0.3 },
  grid: { width: 260 },
});
