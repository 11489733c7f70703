import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, oneOf, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const fold = defineElement({
  kind: 'fold',
  said: { name: 'Fold', hint: 'opens and shuts' },
  properties: {
    words: words('the words on it', { unfilled: { severity: 'look', said: 'it has no words yet.' } }),
    begins: oneOf('how it begins', { shut: 'Shut', open: 'Open' }),
    children: elements('what it holds', MOST_CHILDREN),
  },
}).does({
  begin: (at) => ({
    words: 'More',
    begins: 'shut',
    children: [at.fresh('text', { words: 'What is seen when it opens.' })],
  }),
  name: (e, naming) => naming.words(e.words),
  draw(e, d) {
    const said = d.words(e.words);
    return (p) => ({ words: said(p), begins: e.begins });
  },
});
