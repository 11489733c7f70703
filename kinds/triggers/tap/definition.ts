import type { AnyElement } from '../../../core/document/meaning.ts';
import type { Tap } from '../../../core/document/pieces.ts';
import { walkElements } from '../../../core/document/walk.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** How a tap is called by the property that holds it. */
const SAID: Record<string, string> = { swipe: 'is swiped', several: 'is marked' };

/** A tap on an element, a swipe, or a mark. It is kept with the element, as what its tap does. */
export const tap = defineTrigger({
  on: 'tap',
  said: { group: 'Started by a tap', name: 'a tap' },
  properties: {},
}).does({
  starters: (app, routine, elementName) =>
    [...app.screens, ...(app.parts ?? [])].flatMap((s) => {
      const found: { said: string; screen: string; element: string }[] = [];
      walkElements<AnyElement>([s.root], (e) => {
        const { taps = [] } = e as AnyElement & { taps?: { tap: Tap }[] };
        for (const [name, does] of [...Object.entries(e), ...taps.map((t) => ['tap', t.tap] as const)])
          if (isRun(does, routine))
            found.push({
              said: `${elementName(e)} on ${s.name} ${SAID[name] ?? 'is tapped'}`,
              screen: s.id,
              element: e.id,
            });
      });
      return found;
    }),
});

const isRun = (value: unknown, routine: string): boolean => {
  const does = value as { do?: unknown; routine?: unknown } | null;
  return typeof value === 'object' && does?.do === 'routine' && does.routine === routine;
};
