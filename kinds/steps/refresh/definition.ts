import { defineStep } from '../../../core/routines/step.ts';

/** Fetches what others have changed, and sends what waits here. Without a network it fails. */
export const refresh = defineStep({
  do: 'refresh',
  said: { name: 'Refresh', hint: 'fetch what is new' },
  properties: {},
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'refresh' }, did: { said: 'Fetched what is new', gave: 'done' } }),
});
