import { words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Saves words as a file on the device. */
export const saveFile = defineStep({
  do: 'save file',
  said: { name: 'Save a file', hint: 'on the device' },
  properties: {
    name: words('the name of the file', { unfilled: { severity: 'stops', said: 'the file to save has no name.' } }),
    content: words('what is in it', { unfilled: { severity: 'stops', said: 'the file to save is empty.' } }),
  },
}).does({
  begin: () => ({ name: '', content: '' }),
  start(step, s) {
    const name = s.words(step.name).trim();
    if (!name) throw new StepError('The file has no name.');
    const what = { do: 'save' as const, name, type: 'text/plain', content: s.words(step.content) };
    return { ask: { ask: 'device', what }, did: { said: `Saved ${name}`, gave: 'saved' } };
  },
});
