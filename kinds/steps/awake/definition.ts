import { yesNo } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Keeps the screen from going dark (Screen Wake Lock API). */
export const awake = defineStep({
  do: 'awake',
  said: { name: 'Keep the screen awake', hint: 'or let it sleep again' },
  only: 'phone',
  properties: {
    on: yesNo('the screen', { true: 'stays awake', false: 'may sleep again' }),
  },
}).does({
  begin: () => ({ on: true }),
  start: (step) => ({
    ask: { ask: 'device', what: { do: 'awake', on: step.on } },
    did: { said: step.on ? 'Kept the screen awake' : 'Let the screen sleep', gave: 'done' },
  }),
});
