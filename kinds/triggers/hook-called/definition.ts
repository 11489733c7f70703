import { oneOf, text } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/**
 * Another system calls an address of the app. What it sends is JSON, whose values go to the inputs of the same names. The
 * same call that comes twice is one.
 */
export const hookCalled = defineTrigger({
  on: 'hook called',
  at: 'host',
  said: { group: 'When another system calls', name: 'another system calls an address' },
  properties: {
    proof: oneOf('how it proves that it may', {
      secret: 'a secret in the address',
      signature: 'a signature of what it sends (HMAC-SHA-256)',
    }),
    once: text('what tells calls apart', 60),
  },
  knows: ['what was sent'],
}).does({
  begin: () => ({ proof: 'secret', once: 'Idempotency-Key' }),
  starters: (app, routine) =>
    startersKept<{ on: 'hook called' }>(app, routine, 'hook called', () => ({ said: 'another system calls' })),
});
