import { fieldValues, optional, part as partOf, taps } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** A place of a part. It is drawn as the elements of the part (`core/screens/parts.ts`), never by itself. */
export const part = defineElement({
  kind: 'part',
  said: { name: 'Part', hint: 'made once, used often' },
  needs: 'part',
  properties: {
    part: partOf('the part', { unfilled: { severity: 'stops', said: 'the part is not chosen, or gone.' } }),
    values: fieldValues('the value of an input', 'part'),
    taps: optional(taps('what a tap in it does')),
  },
}).does({
  begin: () => ({ part: '', values: [] }),
  // Where the part is gone there is nothing to draw.
  draw: () => () => ({}),
});
