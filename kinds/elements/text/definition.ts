import { oneOf, optional, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { INKS } from '../inks.ts';

export const text = defineElement({
  kind: 'text',
  said: { name: 'Text', hint: 'words and values' },
  properties: {
    words: words('the words'),
    style: oneOf('the style', {
      title: 'title',
      heading: 'heading',
      strong: 'strong',
      body: 'body',
      small: 'small',
      figure: 'large figure',
    }),
    colour: oneOf('the colour', INKS),
    align: optional(oneOf('lined up', { start: 'Start', middle: 'Middle', end: 'End' })),
  },
}).does({
  begin: () => ({ words: 'New text', style: 'body', colour: 'ink' }),
  name: (e, naming) => naming.words(e.words),
  draw(e, d) {
    const words = d.words(e.words);
    return (p) => ({ words: words(p), style: e.style, colour: e.colour, align: e.align });
  },
});
