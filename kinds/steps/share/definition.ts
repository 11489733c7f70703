import { formula, optional, words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Hands words, an address or a picture to another app of the phone (Web Share API). */
export const share = defineStep({
  do: 'share',
  said: { name: 'Share', hint: 'words, an address or a picture' },
  only: 'phone',
  properties: {
    title: optional(words('the title')),
    words: words('the words'),
    address: optional(formula('an address', 'value')),
    file: optional(formula('a picture or file', 'picture')),
  },
}).does({
  begin: () => ({ words: '' }),
  start(step, s) {
    const words = s.words(step.words);
    const address = step.address ? s.value(step.address, 'The address').text : '';
    const file = step.file ? s.value(step.file, 'The file').value : null;
    if (!words.trim() && !address && file === null) throw new StepError('There is nothing to share.');
    const what = {
      do: 'share' as const,
      title: s.words(step.title ?? ''),
      words,
      address,
      ...(typeof file === 'string' && { file }),
    };
    return { ask: { ask: 'device', what }, did: { said: `Shared “${words || address || 'a file'}”`, gave: 'shared' } };
  },
});
