import { steps, where } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

export const ifStep = defineStep({
  do: 'if',
  said: { name: 'If', hint: 'one way or the other' },
  properties: {
    when: where('a condition', { unfilled: { severity: 'stops', said: 'a condition is not filled in yet.' } }),
    then: steps('what happens then', 200),
    otherwise: steps('what happens otherwise', 200, { label: 'Otherwise' }),
  },
}).does({
  begin: () => ({
    when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
    then: [],
    otherwise: [],
  }),
  start(step, s) {
    const met = s.holds(step.when);
    return {
      enter: met ? 'then' : 'otherwise',
      did: { said: `If ${s.conditions(step.when)}`, gave: met ? 'yes' : 'no' },
    };
  },
});
