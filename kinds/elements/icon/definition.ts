import { icon as iconProperty, number, oneOf } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { INKS } from '../inks.ts';

export const icon = defineElement({
  kind: 'icon',
  said: { name: 'Icon', hint: 'a small sign' },
  properties: {
    icon: iconProperty('the icon'),
    size: number('the size', 12, 160, { whole: true }),
    colour: oneOf('the colour', INKS),
    ground: oneOf('the ground', { none: 'none', tint: 'tint' }),
  },
}).does({
  begin: () => ({ icon: 'star', size: 28, colour: 'accent', ground: 'none' }),
  name: (e) => `Icon ${e.icon.replace(/-/g, ' ')}`,
  draw: (e) => () => ({ icon: e.icon, size: e.size, colour: e.colour, ground: e.ground }),
});
