import { oneOf, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** A word or figure on a coloured ground. With nothing to say it is not there. */
export const badge = defineElement({
  kind: 'badge',
  said: { name: 'Badge', hint: 'a word that stands out' },
  properties: {
    words: words('the words', { unfilled: { severity: 'look', said: 'a badge says nothing yet.' } }),
    tone: oneOf('the tone', {
      plain: 'plain',
      accent: 'accent',
      good: 'good news',
      look: 'worth a look',
      bad: 'bad news',
    }),
  },
}).does({
  begin: () => ({ words: 'New', tone: 'accent' }),
  name: (e, naming) => naming.words(e.words),
  draw(e, d) {
    const words = d.words(e.words);
    return (p) => ({ words: words(p).trim(), tone: e.tone });
  },
});
