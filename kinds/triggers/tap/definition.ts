import type { Tap } from '../../../core/document/pieces.ts';
import { walkElements } from '../../../core/document/walk.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A tap on an element. It is kept with the element, as what its tap does. */
export const tap = defineTrigger({
  on: 'tap',
  said: { group: 'Started by a tap', name: 'a tap' },
  properties: {},
}).does({
  starters: (app, routine, elementName) =>
    app.screens.flatMap((s) => {
      const found: { said: string; screen: string; element: string }[] = [];
      walkElements([s.root], (e) => {
        const does = (e as { tap?: Tap }).tap;
        if (does?.do === 'routine' && does.routine === routine)
          found.push({ said: `${elementName(e)} on ${s.name} is tapped`, screen: s.id, element: e.id });
      });
      return found;
    }),
});
