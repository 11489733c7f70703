import { words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Speaks words (Web Speech API); it is done when they have been said. */
export const speak = defineStep({
  do: 'speak',
  said: { name: 'Say aloud', hint: 'in the voice of the device' },
  only: 'phone',
  properties: {
    words: words('the words', { unfilled: { severity: 'stops', said: 'there is nothing to say aloud yet.' } }),
  },
}).does({
  begin: () => ({ words: '' }),
  start(step, s) {
    const words = s.words(step.words);
    if (!words.trim()) throw new StepError('There is nothing to say.');
    return {
      ask: { ask: 'device', what: { do: 'speak', words, language: 'en-GB' } },
      did: { said: `Said “${words}”`, gave: 'said' },
    };
  },
});
