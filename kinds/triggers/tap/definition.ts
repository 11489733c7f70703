import type { AnyElement } from '../../../core/document/meaning.ts';
import type { Tap } from '../../../core/document/pieces.ts';
import { madeOf } from '../../../core/document/made-of.ts';
import { walkElements } from '../../../core/document/walk.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** How a tap is called by the property that holds it. */
const SAID: Record<string, string> = { swipe: 'is swiped', several: 'is marked' };

interface RunTap {
  element: AnyElement;
  /** The property that holds it. */
  name: string;
}

/** The taps in a screen or part, by the routine they run. */
const runsOf = madeOf((root: AnyElement): ReadonlyMap<string, RunTap[]> => {
  const found = new Map<string, RunTap[]>();
  walkElements<AnyElement>([root], (element) => {
    const { taps = [] } = element as AnyElement & { taps?: { tap: Tap }[] };
    for (const [name, does] of [...Object.entries(element), ...taps.map((t) => ['tap', t.tap] as const)]) {
      const { do: act, routine } = (typeof does === 'object' && (does as { do?: unknown; routine?: unknown })) || {};
      if (act !== 'routine' || typeof routine !== 'string') continue;
      if (!found.has(routine)) found.set(routine, []);
      found.get(routine)!.push({ element, name });
    }
  });
  return found;
});

/** A tap on an element, a swipe, or a mark. It is kept with the element, as what its tap does. */
export const tap = defineTrigger({
  on: 'tap',
  said: { group: 'Started by a tap', name: 'a tap' },
  properties: {},
}).does({
  starters: (app, routine, elementName) =>
    [...app.screens, ...(app.parts ?? [])].flatMap((s) =>
      (runsOf(s.root).get(routine) ?? []).map(({ element, name }) => ({
        said: `${elementName(element)} on ${s.name} ${SAID[name] ?? 'is tapped'}`,
        screen: s.id,
        element: element.id,
      })),
    ),
});
