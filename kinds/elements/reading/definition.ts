import { formula, words } from '../../../core/document/meaning.ts';
import { display, isKeptFile } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const reading = defineElement({
  kind: 'reading',
  said: { name: 'Reading', hint: 'a label and a value' },
  properties: {
    label: words('the label'),
    value: formula('the value', 'any', { unfilled: { severity: 'look', said: 'its value is not chosen.' } }),
  },
}).does({
  begin: () => ({ label: 'Label', value: '' }),
  name: (e) => e.label,
  draw(e, d) {
    const label = d.words(e.label);
    const value = d.formula(e.value);
    return (p) => {
      const v = value.at(p);
      return {
        label: label(p),
        value: display(v, value.field),
        hidden: v === null && value.isHidden(p),
        format: value.field?.type ?? null,
        /** The address of a kept file, picture or sound. */
        file: isKeptFile(v, value.field?.type) ? v : null,
      };
    };
  },
});
