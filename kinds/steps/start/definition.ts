import { defineStep } from '../../../core/routines/step.ts';

/** Goes back to the first of the open screens. */
export const toStart = defineStep({
  do: 'start',
  said: { name: 'Go to the start', hint: 'the first screen' },
  only: 'phone',
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'back', to: 'start' }, did: { said: 'Went to the start', gave: 'done' } }),
});
