import { defineStep } from '../../../core/routines/step.ts';

/** Closes the sheet that lies upon the screen, when there is one. */
export const closeSheet = defineStep({
  do: 'close',
  said: { name: 'Close the sheet', hint: '' },
  only: 'phone',
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'back', to: 'under' }, did: { said: 'Closed the sheet', gave: 'done' } }),
});
