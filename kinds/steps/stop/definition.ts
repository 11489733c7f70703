import { defineStep } from '../../../core/routines/step.ts';

export const stop = defineStep({
  do: 'stop',
  said: { name: 'Stop here', hint: 'the rest is not done' },
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ stop: true, did: { said: 'Stopped here', gave: 'stopped' } }),
});
