import { defineField } from '../../../core/fields/kind.ts';
import { places, quoted } from '../../../core/fields/numbers.ts';

export const formula = defineField({
  type: 'formula',
  name: 'formula',
  keptByApp: true,
  read: () => null,
  starts: () => ({ formula: '' }),
  serves: { second: 2.5 },
  typed: () => undefined,
  numberFormat: (f) =>
    `${f.decimals === undefined ? 'General' : places(f.decimals)}${f.unit ? ` ${quoted(f.unit)}` : ''}`,
});
