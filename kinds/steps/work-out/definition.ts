import { formula, result, text } from '../../../core/document/meaning.ts';
import { ANY } from '../../../core/formula/types.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Works a formula out once, for later steps. */
export const workOut = defineStep({
  do: 'work out',
  said: { name: 'Work out', hint: 'a value for later steps' },
  properties: {
    value: formula('the value', 'any', { unfilled: { severity: 'stops', said: 'what to work out is not filled in.' } }),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ value: '', result: id('v'), resultName: 'figure' }),
  gives: () => ANY,
  start(step, s) {
    const { value, text: said } = s.value(step.value, 'What to work out');
    return {
      did: { said: `Worked out ${step.resultName}: ${said || 'nothing'}`, gave: said || 'nothing', result: value },
    };
  },
});
