import { steps, words } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** One choice of a menu, with what happens when it is taken. */
export const choice = defineStep({
  do: 'choice',
  said: { name: 'A choice', hint: 'of a menu' },
  properties: {
    words: words('the choice', { unfilled: { severity: 'stops', said: 'a choice of a menu has no words.' } }),
    steps: steps('what happens then', 200),
  },
}).does({
  begin: () => ({ words: '', steps: [] }),
  start: (step, s) => ({ enter: 'steps', did: { said: s.words(step.words), gave: 'chosen' } }),
});
