import { defineStep } from '../../../core/routines/step.ts';

/** Signs out whoever has signed in with the maker's service. */
export const signOut = defineStep({
  do: 'sign out',
  said: { name: 'Sign out', hint: 'and clear what was theirs' },
  properties: {},
  only: 'phone',
}).does({
  begin: () => ({}),
  start: () => ({ ask: { ask: 'sign out' }, did: { said: 'Signed out', gave: 'done' } }),
});
