import { oneOf, optional, routine, words } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

export const message = defineStep({
  do: 'message',
  said: { name: 'Show a message', hint: 'on the phone' },
  only: 'phone',
  properties: {
    words: words('the message', { unfilled: { severity: 'stops', said: 'a message has no words yet.' } }),
    has: optional(oneOf('its button', { none: 'no button', undo: 'Undo', run: 'a button that runs a routine' })),
    button: optional(words('the words on its button')),
    routine: optional(routine('what its button runs')),
  },
}).does({
  begin: () => ({ words: '' }),
  notes: (step, { routines }) =>
    step.has === 'run' && !routines.some((r) => r.id === step.routine)
      ? [{ severity: 'stops', said: 'what the button of a message runs is not chosen.' }]
      : [],
  start(step, s) {
    const said = s.words(step.words);
    if (!said.trim()) throw new StepError('The message has no words yet.');
    const button =
      step.has === 'undo'
        ? { button: s.words(step.button ?? '') || 'Undo', undo: true }
        : step.has === 'run'
          ? { button: s.words(step.button ?? '') || 'Do it', runs: step.routine ?? '' }
          : {};
    return { ask: { ask: 'message', words: said, ...button }, did: { said: `Showed “${said}”`, gave: 'shown' } };
  },
});
