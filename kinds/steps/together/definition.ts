import { steps } from '../../../core/document/meaning.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** What the steps inside write is seen by the later of them at once, and sent as one: all of it is taken, or nothing. */
export const together = defineStep({
  do: 'together',
  said: { name: 'Together', hint: 'all of it or nothing' },
  properties: { steps: steps('what happens together', 200) },
}).does({
  begin: () => ({ steps: [] }),
  start: () => ({ enter: 'steps', gather: true }),
  nextTurn: () => ({ send: true, did: { said: 'Wrote what belongs together', gave: 'written' } }),
});
