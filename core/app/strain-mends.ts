import { untitled } from '../document/names.ts';
import type { Query } from '../document/pieces.ts';
import { childrenOf, walkElements } from '../document/walk.ts';
import { joinPieces, pieces, type Placed } from '../records/words.ts';
import { tableOf } from '../tables/names.ts';
import { elementOf, placeOf } from './edits.ts';
import type { App, Element } from './schema.ts';

/** What does not hold when a screen is strained, as it was measured. */
export type Fault =
  | 'cut off'
  | 'broken'
  | 'blank'
  | 'too wide'
  | 'too high'
  | 'covered'
  | 'small target'
  | 'low contrast'
  | 'jumps'
  | 'slow';

export interface FaultMend {
  /** "Let it fill the width". */
  said: string;
  do(app: App): void;
}

/** As small as a thing may be that fingers press, in pixels. */
const FINGER = 44;

/** So many records of a long list are enough at once. */
const A_FEW = 200;
/** What shows records one by one. */
const ROWS = new Set(['list', 'table', 'board']);

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
  if (fault === 'blank') return namedMend(app, e);
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
  if (fault === 'jumps')
    return e.kind === 'picture'
      ? {
          said: 'Keep room for it, 4 to 3',
          do: change(id, (x) => {
            x['ratio'] = '4/3';
          }),
        }
      : null;
  if (fault === 'slow')
    // Of a chart or a count fewer records would be another figure.
    return ROWS.has(e.kind) && (e['query'] as Query).limit === null
      ? {
          said: `Show ${A_FEW} at most`,
          do: change(id, (x) => {
            x['query'] = { ...(x['query'] as object), limit: A_FEW };
          }),
        }
      : null;
  if (fault === 'covered') {
    const layered = boxAround(app, id, (box) => box.runs === 'layered');
    return layered && runDown(layered);
  }
  if (fault === 'too high')
    return typeof e.height === 'number' || e.stands?.mostHeight !== undefined
      ? {
          said: 'Let it be as high as it needs',
          do: change(id, (x) => {
            if (typeof x.height === 'number') x.height = 'fit';
            const { mostHeight: _most, ...rest } = x.stands ?? {};
            if (Object.keys(rest).length) x.stands = rest;
            else delete x.stands;
          }),
        }
      : null;
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
  const beside = boxAround(app, id, (box) => box.runs === 'across' && box.children.length > 1);
  if (beside) return runDown(beside);
  if (fault === 'broken' && e['style'] === 'title')
    return {
      said: 'Make it a heading, not a title',
      do: change(id, (x) => {
        x['style'] = 'heading';
      }),
    };
  return null;
}

/** Gives the first value that a row shows words for when it is missing. */
function namedMend(app: App, list: Element): FaultMend | null {
  const table = tableOf(app, (list as { query?: Query }).query?.table ?? '');
  let text: (Element & { words: string }) | undefined;
  walkElements(childrenOf(list), (e) => {
    if (e.kind === 'text' && pieces(e.words).some((p) => 'formula' in p)) text ??= e;
  });
  if (!table || !text) return null;
  const words = untitled(table.one);
  return {
    said: `Let it say “${words}”`,
    do: change(text.id, (x) => {
      const all = pieces(x['words'] as string);
      const first = all.find((p) => 'formula' in p);
      x['words'] = joinPieces(all.map((p) => (p === first ? { ...(p as Placed), missing: words } : p)));
    }),
  };
}

type Box = Extract<Element, { kind: 'box' }>;

/** The nearest box around of some sort. */
function boxAround(app: App, id: string, is: (box: Box) => boolean): Box | null {
  for (let e = placeOf(app, id)?.parent; e; e = placeOf(app, e.id)?.parent)
    if (e.kind === 'box' && is(e as Box)) return e as Box;
  return null;
}

const runDown = (box: Box): FaultMend => ({
  said: 'Let its box run down',
  do: change(box.id, (x) => {
    x['runs'] = 'down';
  }),
});
