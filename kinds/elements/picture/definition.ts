import { formula, number, oneOf, optional, yesNo } from '../../../core/document/meaning.ts';
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
    /** Width to height, where it is another than that of its shape. */
    ratio: optional(
      oneOf('width to height', {
        shape: 'as its shape',
        own: 'as it is',
        '3/2': '3 to 2',
        '4/3': '4 to 3',
        '1/1': '1 to 1',
        '3/4': '3 to 4',
        '2/3': '2 to 3',
      }),
    ),
    /** A picture of another ratio is cropped, unless all of it is to be seen. */
    whole: optional(yesNo('how much of it is seen', { true: 'all of it', false: 'cropped' })),
    corner: optional(number('its corners', 0, 200)),
    raised: optional(yesNo('how it lies', { true: 'raised', false: 'flat' })),
  },
}).does({
  begin: () => ({ source: '', shape: 'wide' }),
  draw(e, d) {
    const source = d.formula(e.source);
    const { shape, ratio, whole, corner, raised } = e;
    return (p) => ({
      address: d.address(addressIn(source.at(p))),
      shape,
      ratio,
      whole,
      corner,
      raised,
      alt: e.name ?? '',
    });
  },
});
