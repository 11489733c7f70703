import { defineStep } from '../../../core/routines/step.ts';

/** Leads to the page where people sign in with the maker's service, and back. */
export const signIn = defineStep({
  do: 'sign in',
  said: { name: 'Sign in', hint: 'at the page of your service' },
  properties: {},
  only: 'phone',
}).does({
  begin: () => ({}),
  start: () => ({
    ask: { ask: 'device', what: { do: 'sign in' } },
    did: { said: 'Went to sign in', gave: 'left the app' },
  }),
});
