import { defineStep } from '../../../core/routines/step.ts';

/** Stops the sound that a step began. */
export const silence = defineStep({
  do: 'silence',
  said: { name: 'Stop the sound', hint: '' },
  only: 'phone',
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'device', what: { do: 'silence' } }, did: { said: 'Stopped the sound', gave: 'done' } }),
});
