import { defineField } from '../../../core/fields/kind.ts';

export const picture = defineField({
  type: 'picture',
  name: 'picture address',
  holdsFile: true,
  column: 'picture address',
  grid: { width: 90 },
  serves: { picture: true },
});
