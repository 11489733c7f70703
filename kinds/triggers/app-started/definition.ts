import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** The app was opened on a device, and its first screen is there. */
export const appStarted = defineTrigger({
  on: 'app started',
  said: { group: 'When the app starts', name: 'the app starts' },
  properties: {},
}).does({
  begin: () => ({}),
  starters: (app, routine) => startersKept(app, routine, 'app started', () => ({ said: 'the app starts' })),
  answers: (_trigger, happening) => happening.on === 'app started' && { record: null },
});
