import type { AnyElement } from '../document/meaning.ts';
import { elementOf, placeOf } from './edits.ts';
import type { App, Element } from './schema.ts';

/** Two choices that cannot both hold, in words, with an edit after which they do. */
export interface Contradiction {
  said: string;
  mend: { said: string; do(app: App): void };
}

/** Room on a usual phone between the edges of a screen, in pixels. */
const PHONE = 358;

/** What about the size of an element contradicts itself or the box around it. */
export function contradictions(app: App, id: string): Contradiction[] {
  const at = placeOf(app, id);
  const e = at?.list[at.at] as AnyElement | undefined;
  if (!at?.parent || !e) return [];
  const found: Contradiction[] = [];
  const add = (said: string, mend: string, recipe: (e: Element, parent: Element) => void): void => {
    found.push({
      said,
      mend: {
        said: mend,
        do(a) {
          const [own, around] = [elementOf(a, id), placeOf(a, id)?.parent];
          if (own && around) recipe(own, around);
        },
      },
    });
  };
  const parent = at.parent as Element;
  const isRoot = parent.id === at.screen.root.id;
  const runs = parent.kind === 'box' ? parent.runs : 'down';
  const { stands = {} } = e;
  if (stands.leastWidth !== undefined && stands.mostWidth !== undefined && stands.leastWidth > stands.mostWidth)
    add('Its least width is more than its most.', 'Swap them', (x) => {
      x.stands = { ...x.stands, leastWidth: stands.mostWidth, mostWidth: stands.leastWidth };
    });
  if (stands.leastHeight !== undefined && stands.mostHeight !== undefined && stands.leastHeight > stands.mostHeight)
    add('Its least height is more than its most.', 'Swap them', (x) => {
      x.stands = { ...x.stands, leastHeight: stands.mostHeight, mostHeight: stands.leastHeight };
    });
  if (
    e.height === 'fill' &&
    runs === 'down' &&
    !isRoot &&
    parent.height !== 'fill' &&
    typeof parent.height !== 'number'
  )
    add('It fills the height of a box that is only as high as what it holds.', 'Let the box fill', (_, around) => {
      around.height = 'fill';
    });
  if (e.width === 'fill' && runs === 'across' && parent.width === 'fit')
    add('It fills the width of a box that is only as wide as what it holds.', 'Let the box fill', (_, around) => {
      around.width = 'fill';
    });
  const wide = typeof e.width === 'number' ? e.width : (stands.leastWidth ?? 0);
  if (wide > PHONE)
    add(`It is ${wide} pixels wide, and a phone has room for ${PHONE}.`, 'Let it fill', (x) => {
      x.width = 'fill';
      if (x.stands) delete x.stands.leastWidth;
    });
  if (stands.share !== undefined && e.width !== 'fill' && e.height !== 'fill')
    add('It takes a share of the room, and does not fill.', 'Let it fill', (x) => {
      if (runs === 'across') x.width = 'fill';
      else x.height = 'fill';
    });
  return found;
}
