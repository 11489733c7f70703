import { screen } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A screen that was open before comes back into view. It gives the screen's record. */
export const screenReturned = defineTrigger({
  on: 'screen returned',
  said: { group: 'When a screen is returned to', name: 'a screen is returned to' },
  properties: {
    screen: screen('the screen', { unfilled: { severity: 'stops', said: 'its screen is not chosen.' } }),
  },
}).does({
  begin: (app) => ({ screen: app.screens[0]?.id ?? '' }),
  starters: (app, routine) =>
    startersKept<{ on: 'screen returned'; screen?: string }>(app, routine, 'screen returned', (t) => {
      const s = app.screens.find((x) => x.id === t.screen);
      return s ? { said: `${s.name} is returned to`, screen: s.id } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'screen returned' && happening.screen === trigger.screen && { record: happening.record },
});
