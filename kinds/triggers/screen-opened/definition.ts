import { screen } from '../../../core/document/meaning.ts';
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
    (app.routines.find((r) => r.id === routine)?.starts ?? []).flatMap((t) => {
      const { on, screen: id } = t as { on: string; screen?: string };
      const opened = app.screens.find((s) => s.id === id);
      return on === 'screen opened' && opened ? [{ said: `${opened.name} opens`, screen: opened.id }] : [];
    }),
  answers: (trigger, happening) =>
    happening.on === 'screen opened' && happening.screen === trigger.screen && { record: happening.record },
});
