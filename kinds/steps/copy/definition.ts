import { words } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Puts words on the clipboard (Clipboard API). */
export const copy = defineStep({
  do: 'copy',
  said: { name: 'Copy words', hint: 'to the clipboard' },
  only: 'phone',
  properties: {
    words: words('the words', { unfilled: { severity: 'stops', said: 'there is nothing to copy yet.' } }),
  },
}).does({
  begin: () => ({ words: '' }),
  start(step, s) {
    const words = s.words(step.words);
    return { ask: { ask: 'device', what: { do: 'copy', words } }, did: { said: `Copied “${words}”`, gave: 'copied' } };
  },
});
