import { formula, oneOf } from '../../../core/document/meaning.ts';
import type { Value } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** The address itself, also of a photo, which people read as “photo”. */
const addressIn = (v: Value): string => (typeof v === 'string' ? v : display(v));

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
    return (p) => ({ address: d.address(addressIn(source.at(p))), shape: e.shape, alt: e.name ?? '' });
  },
});
