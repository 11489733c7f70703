import { formula, oneOf, words } from '../../../core/document/meaning.ts';
import type { Value } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';

const number = (v: Value): number | null => (typeof v === 'number' && Number.isFinite(v) ? v : null);

/** How far something is: a value of what it is to reach, as a bar or a ring. */
export const progress = defineElement({
  kind: 'progress',
  said: { name: 'Progress', hint: 'how far something is' },
  properties: {
    label: words('the label'),
    value: formula('the value', 'value', { unfilled: { severity: 'look', said: 'its value is not chosen.' } }),
    goal: formula('the goal', 'value', { unfilled: { severity: 'look', said: 'what it is to reach is not chosen.' } }),
    look: oneOf('the look', { bar: 'Bar', ring: 'Ring' }),
  },
}).does({
  begin: () => ({ label: 'Done', value: '', goal: '100', look: 'bar' }),
  name: (e, naming) => naming.words(e.label),
  draw(e, d) {
    const label = d.words(e.label);
    const value = d.formula(e.value);
    const goal = d.formula(e.goal);
    return (p) => {
      const [is, of] = [number(value.at(p)), number(goal.at(p))];
      const share = is === null || of === null || of === 0 ? null : Math.min(1, Math.max(0, is / of));
      return {
        label: label(p),
        look: e.look,
        /** From 0 to 1; null when there is nothing to compare. */
        share,
        said:
          is === null
            ? ''
            : `${display(is, value.field)}${of === null ? '' : ` of ${display(of, goal.field ?? value.field)}`}`,
      };
    };
  },
});
