import { oneOf } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

export const PERSON_DID = {
  invited: 'is invited',
  'signed in': 'signs in',
  'signed out': 'signs out',
} as const;

/** Somebody was invited, has signed in or signed out. The routine is given their record in the table of people. */
export const personCame = defineTrigger({
  on: 'person came',
  at: 'host',
  said: { group: 'When people come', name: 'somebody is invited, signs in or out' },
  properties: { did: oneOf('what they do', PERSON_DID) },
  knows: ['mail of the person'],
}).does({
  begin: () => ({ did: 'signed in' }),
  starters: (app, routine) =>
    startersKept<{ on: 'person came'; did?: keyof typeof PERSON_DID }>(app, routine, 'person came', (t) => ({
      said: `somebody ${PERSON_DID[t.did ?? 'signed in']}`,
    })),
});
