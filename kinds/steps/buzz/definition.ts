import { oneOf } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Shakes the phone (Vibration API). */
export const buzz = defineStep({
  do: 'buzz',
  said: { name: 'Buzz', hint: 'shakes the phone' },
  only: 'phone',
  properties: {
    how: oneOf('how', { short: 'once, short', long: 'once, long', twice: 'twice' }),
  },
}).does({
  begin: () => ({ how: 'short' }),
  start: (step) => ({
    ask: { ask: 'device', what: { do: 'buzz', ms: { short: [120], long: [600], twice: [120, 100, 120] }[step.how] } },
    did: { said: 'Buzzed', gave: 'done' },
  }),
});
