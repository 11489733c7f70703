import { number, oneOf } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** As often as a timer may come, in seconds. */
export const LEAST_SECONDS = 0.1;

/**
 * So many seconds after the routine's timer was switched on by a step: once, or again and again until it is switched
 * off. It belongs to the app that is open, and ends with it.
 */
export const timer = defineTrigger({
  on: 'timer',
  said: { group: 'By a timer', name: 'a timer comes' },
  properties: {
    seconds: number('the seconds', LEAST_SECONDS, 86_400),
    how: oneOf('how often', { again: 'again and again', once: 'once' }),
  },
}).does({
  begin: () => ({ seconds: 1, how: 'again' }),
  starters: (app, routine) =>
    startersKept<{ on: 'timer'; seconds?: number; how?: string }>(app, routine, 'timer', (t) => ({
      said:
        t.how === 'once'
          ? `${t.seconds} s after its timer is switched on`
          : `every ${t.seconds} s while its timer is on`,
    })),
});
