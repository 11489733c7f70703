import { elements, oneOf } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** More than these nobody finds their way through. */
export const MOST_TABS = 12;

/** Leaves of which one is seen at a time, chosen by its name. */
export const tabs = defineElement({
  kind: 'tabs',
  said: { name: 'Tabs', hint: 'one of several at a time' },
  properties: {
    look: oneOf('the look', { line: 'A line below', chips: 'Chips' }),
    children: elements('its leaves', MOST_TABS, {
      unfilled: { severity: 'look', said: 'there is no leaf yet.' },
    }),
  },
}).does({
  begin: (at) => ({
    look: 'line',
    children: ['First', 'Second'].map((name) =>
      at.fresh('box', {
        name,
        gap: 10,
        inside: 0,
        surface: 'none',
        children: [at.fresh('text', { words: `What is in ${name.toLowerCase()}.` })],
      }),
    ),
  }),
  name: () => 'Tabs',
  draw(e) {
    // A leaf is called as its element is.
    const names = e.children.map((leaf, i) => ({ id: leaf.id, name: leaf.name ?? `Tab ${i + 1}` }));
    return () => ({ look: e.look, names });
  },
});
