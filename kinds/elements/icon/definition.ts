import { icon as iconProperty, number, oneOf, optional, tap, text } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';
import { INKS } from '../inks.ts';

export const icon = defineElement({
  kind: 'icon',
  said: { name: 'Icon', hint: 'a small sign' },
  properties: {
    icon: iconProperty('the icon'),
    size: number('the size', 12, 160, { whole: true }),
    colour: oneOf('the colour', INKS),
    ground: oneOf('the ground', { none: 'none', tint: 'tint' }),
    tap: optional(tap('a tap')),
    /** What a tap does, for those who do not see the icon. */
    label: optional(text('what it is called')),
  },
}).does({
  begin: () => ({ icon: 'star', size: 28, colour: 'accent', ground: 'none' }),
  name: (e) => `Icon ${e.icon.replace(/-/g, ' ')}`,
  draw: (e) => () => ({
    icon: e.icon,
    size: e.size,
    colour: e.colour,
    ground: e.ground,
    tap: tapped(e.tap),
    label: e.label ?? e.icon.replace(/-/g, ' '),
  }),
});
