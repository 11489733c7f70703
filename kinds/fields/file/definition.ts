import { defineField } from '../../../core/fields/kind.ts';
import { MAX_FILE_CELL } from '../../../core/fields/kind.ts';

export const file = defineField({
  type: 'file',
  name: 'file',
  column: 'file',
  holdsFile: true,
  longest: MAX_FILE_CELL,
  tooLong: (f) => `The file for ${f.name} is larger than 1 MB. Choose a smaller one.`,
});
