import { oneOf } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A mail has come to the address of the app. What machines write by themselves is left out unless it is asked for. */
export const mailCame = defineTrigger({
  on: 'mail came',
  at: 'host',
  said: { group: 'When a mail comes', name: 'a mail comes to the app' },
  properties: {
    by: oneOf('from whom', {
      person: 'people',
      machine: 'machines, such as answers while somebody is away',
      'mail server': 'mail servers that could not deliver',
    }),
  },
  knows: [
    'sender',
    'name of the sender',
    'subject',
    'words of the mail',
    'whole mail',
    'files of the mail',
    'id of the mail',
    'thread of the mail',
  ],
}).does({
  begin: () => ({ by: 'person' }),
  starters: (app, routine) =>
    startersKept<{ on: 'mail came'; by?: string }>(app, routine, 'mail came', (t) => ({
      said: `a mail comes from ${t.by === 'person' ? 'somebody' : `a ${t.by}`}`,
    })),
});
