import type { AnyElement } from '../../../core/document/meaning.ts';
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
    [...app.screens, ...(app.parts ?? [])].flatMap((s) => {
      const found: { said: string; screen: string; element: string }[] = [];
      walkElements<AnyElement>([s.root], (e) => {
        const { tap, taps = [] } = e as AnyElement & { tap?: Tap; taps?: { tap: Tap }[] };
        for (const does of [...(tap ? [tap] : []), ...taps.map((t) => t.tap)])
          if (does.do === 'routine' && does.routine === routine)
            found.push({ said: `${elementName(e)} on ${s.name} is tapped`, screen: s.id, element: e.id });
      });
      return found;
    }),
});
