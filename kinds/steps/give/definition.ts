import { formula } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Ends the routine and gives a value to the one that ran it. */
export const give = defineStep({
  do: 'give',
  said: { name: 'Give back', hint: 'a value to the routine that ran this one' },
  properties: {
    value: formula('what is given back', 'any', {
      unfilled: { severity: 'stops', said: 'what is given back is not filled in.' },
    }),
  },
}).does({
  begin: () => ({ value: '' }),
  start(step, s) {
    const { value, text } = s.value(step.value, 'What is given back');
    return { back: value, did: { said: `Gave back ${text || 'nothing'}`, gave: text } };
  },
});
