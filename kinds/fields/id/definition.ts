import { readableId } from '../../../core/document/ids.ts';
import { defineField } from '../../../core/fields/kind.ts';

export const id = defineField({
  type: 'id',
  name: 'unique id',
  patterned: true,
  keptByApp: true,
  typed: () => undefined,
  fills: ({ isNew }, field) => (isNew ? readableId(field.prefix) : undefined),
});
