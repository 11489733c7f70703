import { formula, oneOf } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';

export const picture = defineElement({
  kind: 'picture',
  said: { name: 'Picture', hint: '' },
  properties: {
    /** Gives an address or `file:<id>`. */
    source: formula('the picture', 'picture', {
      unfilled: { severity: 'look', said: 'no picture is chosen.' },
    }),
    shape: oneOf('the shape', { wide: 'Wide', square: 'Square', round: 'Round' }),
  },
}).does({
  begin: () => ({ source: '', shape: 'wide' }),
  draw(e, d) {
    const source = d.formula(e.source);
    return (p) => ({ address: d.address(display(source.at(p))), shape: e.shape, alt: e.name ?? '' });
  },
});
