import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** Whoever uses the app here opened a notice that a routine had sent to them. */
export const noticeOpened = defineTrigger({
  on: 'notice opened',
  said: { group: 'When a notice is opened', name: 'a notice is opened' },
  properties: {},
  knows: ['notice', 'words of the notice'],
}).does({
  begin: () => ({}),
  starters: (app, routine) => startersKept(app, routine, 'notice opened', () => ({ said: 'a notice is opened' })),
  answers: (_trigger, happening) =>
    happening.on === 'notice opened' && {
      record: null,
      knows: { notice: happening.title, 'words of the notice': happening.words },
    },
});
