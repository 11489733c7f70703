import { optional, steps, text, words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Asks the person yes or no, and goes one way or the other. */
export const ask = defineStep({
  do: 'ask',
  said: { name: 'Ask yes or no', hint: 'and go one way or the other' },
  lasts: true,
  only: 'phone',
  properties: {
    words: words('the question', { unfilled: { severity: 'stops', said: 'a question has no words yet.' } }),
    yes: optional(text('the word for yes', 40)),
    no: optional(text('the word for no', 40)),
    then: steps('what happens on yes', 200),
    otherwise: steps('what happens on no', 200, { label: 'Otherwise' }),
  },
}).does({
  begin: () => ({ words: '', then: [], otherwise: [] }),
  start(step, s) {
    const said = s.words(step.words);
    if (!said.trim()) throw new StepError('The question has no words yet.');
    const question = { words: said, wants: 'yes or no' as const, yes: step.yes ?? 'Yes', no: step.no ?? 'No' };
    return { ask: { ask: 'question', question }, kept: said };
  },
  answered(step, _s, kept, value) {
    const yes = value === true;
    return {
      enter: yes ? 'then' : 'otherwise',
      did: { said: `Asked “${String(kept)}”`, gave: yes ? (step.yes ?? 'yes') : (step.no ?? 'no') },
    };
  },
});
