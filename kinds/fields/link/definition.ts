import { defineField } from '../../../core/fields/kind.ts';

export const link = defineField({
  type: 'link',
  name: 'link',
  serves: { second: 5 },
  typed: (text, _writing, f) => (f.link?.kind === 'matched' ? undefined : text),
});
