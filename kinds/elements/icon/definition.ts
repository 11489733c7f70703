import { icon as iconProperty, number, oneOf } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const icon = defineElement({
  kind: 'icon',
  said: { name: 'Icon', hint: 'a small sign' },
  properties: {
    icon: iconProperty('the icon'),
    size: number('the size', 12, 160, { whole: true }),
    colour: oneOf('the colour', {
      ink: 'ink',
      soft: 'soft',
      accent: 'accent',
      good: 'good news',
      look: 'worth a look',
      bad: 'bad news',
    }),
    ground: oneOf('the ground', { none: 'none', tint: 'tint' }),
  },
}).does({
  begin: () => ({ icon: 'star', size: 28, colour: 'accent', ground: 'none' }),
  name: (e) => `Icon ${e.icon.replace(/-/g, ' ')}`,
  draw: (e) => () => ({ icon: e.icon, size: e.size, colour: e.colour, ground: e.ground }),
});
