import { screen } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A screen goes out of view, forwards or back. It gives the screen's record. */
export const screenLeft = defineTrigger({
  on: 'screen left',
  said: { group: 'When a screen is left', name: 'a screen is left' },
  properties: {
    screen: screen('the screen', { unfilled: { severity: 'stops', said: 'its screen is not chosen.' } }),
  },
}).does({
  begin: (app) => ({ screen: app.screens[0]?.id ?? '' }),
  starters: (app, routine) =>
    startersKept<{ on: 'screen left'; screen?: string }>(app, routine, 'screen left', (t) => {
      const s = app.screens.find((x) => x.id === t.screen);
      return s ? { said: `${s.name} is left`, screen: s.id } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'screen left' && happening.screen === trigger.screen && { record: happening.record },
});
