import { defineField } from '../../../core/fields/kind.ts';

export const id = defineField({
  type: 'id',
  name: 'unique id',
  keptByApp: true,
  typed: () => undefined,
});
