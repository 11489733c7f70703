import { defineStep } from '../../../core/routines/step.ts';

export const back = defineStep({
  do: 'back',
  said: { name: 'Go back', hint: '' },
  only: 'phone',
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'back' }, did: { said: 'Went back', gave: 'went back' } }),
});
