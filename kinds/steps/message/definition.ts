import { words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

export const message = defineStep({
  do: 'message',
  said: { name: 'Show a message', hint: 'on the phone' },
  properties: {
    words: words('the message', { unfilled: { severity: 'stops', said: 'a message has no words yet.' } }),
  },
}).does({
  begin: () => ({ words: '' }),
  start(step, s) {
    const said = s.words(step.words);
    if (!said.trim()) throw new StepError('The message has no words yet.');
    return { ask: { ask: 'message', words: said }, did: { said: `Showed “${said}”`, gave: 'shown' } };
  },
});
