import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, oneOf, optional, tap, words, yesNo } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

export const slides = defineElement({
  kind: 'slides',
  said: { name: 'Slides', hint: 'one after the other' },
  properties: {
    dots: optional(yesNo('the dots', { true: 'dots below', false: 'no dots' })),
    look: oneOf('how wide one is', { whole: 'The whole width', peek: 'With the next peeking in' }),
    /** Words of the button that leads on; on the last slide it does what a tap does. */
    next: optional(words('the words that lead on')),
    last: optional(words('the words on the last')),
    skip: optional(words('the words that skip')),
    tap: optional(tap('the end or a skip')),
    children: elements('its slides', MOST_CHILDREN, {
      unfilled: { severity: 'look', said: 'there is no slide yet.' },
    }),
  },
}).does({
  begin: (at) => ({
    dots: true,
    look: 'whole',
    children: ['First', 'Second', 'Third'].map((title) =>
      at.fresh('box', {
        gap: 8,
        inside: 16,
        surface: 'card',
        children: [
          at.fresh('text', { words: title, style: 'title' }),
          at.fresh('text', { words: 'Say something here.' }),
        ],
      }),
    ),
  }),
  draw(e, d) {
    const [next, last, skip] = [e.next, e.last, e.skip].map((w) => d.words(w ?? ''));
    return (p) => ({
      dots: e.dots ?? false,
      look: e.look,
      next: next!(p),
      last: last!(p),
      skip: skip!(p),
      tap: tapped(e.tap),
    });
  },
});
