import { words, yesNo } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** Words with headings, lists, links and pictures, as CommonMark writes them; no HTML in it is run. */
export const rich = defineElement({
  kind: 'rich',
  said: { name: 'Rich words', hint: 'headings, lists, links' },
  properties: {
    words: words('the words', { unfilled: { severity: 'look', said: 'its words are missing.' } }),
    select: yesNo('selecting', { true: 'people may select it', false: 'as on other screens' }),
  },
}).does({
  begin: () => ({ words: '# A heading\n\nSome words, **some of them strong**.\n\n- one\n- two', select: true }),
  name: (e, naming) =>
    naming
      .words(e.words)
      .replace(/^[#>\s*-]+/, '')
      .split('\n')[0]!
      .slice(0, 40),
  draw(e, d) {
    const said = d.words(e.words);
    return (p) => ({ words: said(p), select: e.select });
  },
});
