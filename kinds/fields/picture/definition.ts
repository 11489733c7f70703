import { defineField } from '../../../core/fields/kind.ts';

export const picture = defineField({
  type: 'picture',
  name: 'picture',
  holdsFile: true,
  column: 'picture',
  grid: { width: 90 },
  serves: { picture: true },
});
