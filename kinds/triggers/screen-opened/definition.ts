import { screen } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A screen comes into view: by a tap, a tab, a link or going back to it. It gives the screen's record. */
export const screenOpened = defineTrigger({
  on: 'screen opened',
  said: { group: 'When a screen opens', name: 'a screen opens' },
  properties: {
    screen: screen('the screen', { unfilled: { severity: 'stops', said: 'its screen is not chosen.' } }),
  },
}).does({
  begin: (app) => ({ screen: app.screens[0]?.id ?? '' }),
  starters: (app, routine) =>
    startersKept<{ on: 'screen opened'; screen?: string }>(app, routine, 'screen opened', (t) => {
      const s = app.screens.find((x) => x.id === t.screen);
      return s ? { said: `${s.name} opens`, screen: s.id } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'screen opened' && happening.screen === trigger.screen && { record: happening.record },
});
