import { formula, number, words } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** A page from elsewhere, shut in: it sees nothing of the app and cannot leave its frame. */
export const page = defineElement({
  kind: 'page',
  said: { name: 'Page from elsewhere', hint: 'by its address, shut in' },
  properties: {
    address: formula('its address', 'address', {
      unfilled: { severity: 'look', said: 'the address of a page from elsewhere is not chosen.' },
    }),
    title: words('what it is', {
      unfilled: { severity: 'look', said: 'a page from elsewhere does not say what it is.' },
    }),
    tall: number('its height in pixels', 120, 1200, { whole: true }),
  },
}).does({
  begin: () => ({ address: '', title: 'Page', tall: 360 }),
  name: (e, naming) => naming.words(e.title),
  draw(e, d) {
    const address = d.formula(e.address);
    const title = d.words(e.title);
    return (p) => {
      const v = address.at(p);
      return { address: typeof v === 'string' ? v.trim() : display(v), title: title(p), tall: e.tall };
    };
  },
});
