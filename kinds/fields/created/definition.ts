import { defineField } from '../../../core/fields/kind.ts';
import { keptTime } from '../../../core/fields/kept-time.ts';

export const created = defineField({
  type: 'created',
  name: 'time of making',
  ...keptTime,
  fills: ({ isNew, now }) => (isNew ? now : undefined),
});
