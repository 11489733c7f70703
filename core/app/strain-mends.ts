import { elementOf, placeOf } from './edits.ts';
import type { App, Element } from './schema.ts';

/** What does not hold when a screen is strained, as it was measured. */
export type Fault = 'cut off' | 'broken' | 'too wide' | 'small target' | 'low contrast';

export interface FaultMend {
  /** "Let it fill the width". */
  said: string;
  do(app: App): void;
}

/** As small as a thing may be that fingers press, in pixels. */
const FINGER = 44;

/** Changes the first that helps; the element is looked up again, in the draft of the edit. */
const change = (id: string, recipe: (e: Element & Record<string, unknown>) => void): FaultMend['do'] => {
  return (app) => {
    const e = elementOf(app, id);
    if (e) recipe(e as Element & Record<string, unknown>);
  };
};

/** What would mend a fault of an element; null where that is for the maker to say. */
export function faultMend(app: App, id: string, fault: Fault): FaultMend | null {
  const at = placeOf(app, id);
  const e = at && (elementOf(app, id) as (Element & Record<string, unknown>) | null);
  if (!at || !e) return null;
  if (fault === 'low contrast')
    return e['colour'] !== undefined && e['colour'] !== 'ink'
      ? {
          said: 'Write it in ink',
          do: change(id, (x) => {
            x['colour'] = 'ink';
          }),
        }
      : null;
  if (fault === 'small target') {
    const fixed = typeof e.height === 'number' && e.height < FINGER;
    return {
      said: 'Make it large enough for fingers',
      do: change(id, (x) => {
        if (fixed) delete x.height;
        x.stands = { ...x.stands, leastWidth: FINGER, leastHeight: FINGER };
      }),
    };
  }
  if (typeof e.width === 'number' || (e.stands?.leastWidth ?? 0) > FINGER)
    return {
      said: 'Let it fill the width there is',
      do: change(id, (x) => {
        x.width = 'fill';
        const { leastWidth: _least, ...rest } = x.stands ?? {};
        if (Object.keys(rest).length) x.stands = rest;
        else delete x.stands;
      }),
    };
  if (typeof e.height === 'number' && fault === 'cut off')
    return {
      said: 'Let it be as high as it needs',
      do: change(id, (x) => {
        x.height = 'fit';
      }),
    };
  const { parent } = at;
  if (parent?.kind === 'box' && parent.runs === 'across' && parent.children.length > 1)
    return {
      said: 'Let its box run down',
      do: change(parent.id, (x) => {
        x['runs'] = 'down';
      }),
    };
  if (fault === 'broken' && e['style'] === 'title')
    return {
      said: 'Make it a heading, not a title',
      do: change(id, (x) => {
        x['style'] = 'heading';
      }),
    };
  return null;
}
