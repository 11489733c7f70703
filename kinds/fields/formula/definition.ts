import { defineField } from '../../../core/fields/kind.ts';
import { moneyText, places, quoted } from '../../../core/fields/numbers.ts';

export const formula = defineField({
  type: 'formula',
  name: 'formula',
  keptByApp: true,
  read: () => null,
  starts: () => ({ formula: '' }),
  serves: { second: 2.5 },
  typed: () => undefined,
  // Money that is worked out reads as money: by a sign, or a code of three letters (ISO 4217).
  display: (v, f) =>
    typeof v === 'number' && f.decimals === undefined && /^(?:\p{Sc}|[A-Z]{3})$/u.test(f.unit ?? '')
      ? moneyText(v, f.unit!)
      : null,
  numberFormat: (f) =>
    `${f.decimals === undefined ? 'General' : places(f.decimals)}${f.unit ? ` ${quoted(f.unit)}` : ''}`,
});
