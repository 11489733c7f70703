import { formula, optional, words } from '../../../core/document/meaning.ts';
import { fileName, fileType } from '../../../core/fields/kept-address.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Saves words, or a file that was made or kept, on the device. */
export const saveFile = defineStep({
  do: 'save file',
  said: { name: 'Save a file', hint: 'on the device' },
  only: 'phone',
  properties: {
    name: words('the name of the file'),
    content: words('what is in it'),
    file: optional(formula('or a file', 'picture')),
  },
}).does({
  begin: () => ({ name: '', content: '' }),
  notes: (step) =>
    step.file
      ? []
      : !step.name.trim()
        ? [{ severity: 'stops', said: 'the file to save has no name.' }]
        : step.content.trim()
          ? []
          : [{ severity: 'stops', said: 'the file to save is empty.' }],
  start(step, s) {
    if (step.file) {
      const file = s.value(step.file, 'The file to save').value;
      if (typeof file !== 'string' || !(file.startsWith('file:') || fileType(file)))
        throw new StepError('What is to be saved is no file.');
      const name = s.words(step.name).trim() || fileName(file);
      const what = { do: 'save' as const, name, type: fileType(file) ?? '', content: '', file };
      return { ask: { ask: 'device', what }, did: { said: `Saved ${name}`, gave: 'saved' } };
    }
    const name = s.words(step.name).trim();
    if (!name) throw new StepError('The file has no name.');
    const what = { do: 'save' as const, name, type: 'text/plain', content: s.words(step.content) };
    return { ask: { ask: 'device', what }, did: { said: `Saved ${name}`, gave: 'saved' } };
  },
});
