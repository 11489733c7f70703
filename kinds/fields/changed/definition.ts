import { defineField } from '../../../core/fields/kind.ts';
import { keptTime } from '../../../core/fields/kept-time.ts';

export const changed = defineField({
  type: 'changed',
  name: 'time of the last change',
  ...keptTime,
  fills: ({ now }) => now,
});
