import { oneOf } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** A thin line between what stands before it and after it. */
export const divider = defineElement({
  kind: 'divider',
  said: { name: 'Divider', hint: 'a thin line' },
  properties: { look: oneOf('the look', { edge: 'Thin', strong: 'Strong' }) },
}).does({
  begin: () => ({ look: 'edge' }),
  draw: (e) => () => ({ look: e.look }),
});
