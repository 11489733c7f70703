import { number, oneOf, optional, words, yesNo } from '../../../core/document/meaning.ts';
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
    /** Longer words end in an ellipsis. */
    lines: optional(number('the most lines', 1, 20, { whole: true })),
    select: optional(yesNo('selecting')),
    align: optional(oneOf('lined up', { start: 'Start', middle: 'Middle', end: 'End' })),
  },
}).does({
  begin: () => ({ words: 'New text', style: 'body', colour: 'ink' }),
  name: (e, naming) => naming.words(e.words),
  draw(e, d) {
    const words = d.words(e.words);
    const { style, colour, align, lines, select } = e;
    return (p) => ({ words: words(p), style, colour, align, lines, select });
  },
});
