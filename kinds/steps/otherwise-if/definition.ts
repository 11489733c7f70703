import { steps, where } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** A further way of “If”, tried when those before it do not hold. */
export const otherwiseIf = defineStep({
  do: 'otherwise if',
  said: { name: 'Otherwise if', hint: 'another condition' },
  properties: {
    when: where('a condition', { unfilled: { severity: 'stops', said: 'a condition is not filled in yet.' } }),
    steps: steps('what happens then', 200),
  },
}).does({
  begin: () => ({ when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] }, steps: [] }),
  start: (step, s) => ({ enter: 'steps', did: { said: `Otherwise if ${s.conditions(step.when)}`, gave: 'yes' } }),
});
