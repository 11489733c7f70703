import { formula, steps } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** One value of “Choose by value”, with what happens when it is that. */
export const caseStep = defineStep({
  do: 'case',
  said: { name: 'When it is', hint: 'one of the values' },
  properties: {
    value: formula('the value', 'value', {
      unfilled: { severity: 'stops', said: 'a value to go by is not filled in.' },
    }),
    steps: steps('what happens then', 200),
  },
}).does({
  begin: () => ({ value: '', steps: [] }),
  start: (step, s) => ({ enter: 'steps', did: { said: `It is ${s.shown(step.value)}`, gave: 'yes' } }),
});
