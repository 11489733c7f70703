import { number } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** Room between what stands before it and after it. */
export const space = defineElement({
  kind: 'space',
  said: { name: 'Space', hint: 'room between others' },
  properties: { room: number('the room', 4, 400, { whole: true }) },
}).does({
  begin: () => ({ room: 24 }),
  draw: (e) => () => ({ room: e.room }),
});
