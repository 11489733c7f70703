import { formula, steps } from '../../../core/document/meaning.ts';
import { equal } from '../../../core/formula/values.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Goes the way of the first value that is the same. */
export const choose = defineStep({
  do: 'choose',
  said: { name: 'Choose by value', hint: 'one of several ways' },
  properties: {
    value: formula('the value', 'value', {
      unfilled: { severity: 'stops', said: 'the value to go by is not filled in.' },
    }),
    cases: steps('its values', 40, { only: 'case' }),
    otherwise: steps('what happens otherwise', 200, { label: 'Otherwise' }),
  },
}).does({
  begin: () => ({ value: '', cases: [], otherwise: [] }),
  start(step, s) {
    const { value, text } = s.value(step.value, 'The value to go by');
    const did = { said: `Went by ${s.shown(step.value)}`, gave: text || 'nothing' };
    for (const [i, one] of step.cases.entries()) {
      const { value: wanted, off } = one as typeof one & { value: string };
      if (!off && equal(s.value(wanted, 'A value to go by').value, value) === true)
        return { enter: 'cases', only: i, did };
    }
    return { enter: 'otherwise', did };
  },
});
