import { optional, words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Shows a notice of the device (Notifications API). */
export const notice = defineStep({
  do: 'notice',
  said: { name: 'Notify here', hint: 'on this device' },
  only: 'phone',
  properties: {
    title: words('the title', { unfilled: { severity: 'stops', said: 'a notice has no title yet.' } }),
    words: optional(words('the words')),
  },
}).does({
  begin: () => ({ title: '' }),
  start(step, s) {
    const title = s.words(step.title);
    if (!title.trim()) throw new StepError('The notice has no title.');
    const what = { do: 'notice' as const, title, words: s.words(step.words ?? '') };
    return { ask: { ask: 'device', what }, did: { said: `Notified: ${title}`, gave: 'shown' } };
  },
});
