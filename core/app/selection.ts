import { newId } from '../document/ids.ts';
import { copyOf } from '../document/copy.ts';
import { walkElements } from '../document/walk.ts';
import { insideOf, moveElement, placeOf } from './edits.ts';
import { drawnOf } from './names.ts';
import type { App, BoxElement, Element, Screen } from './schema.ts';

/** Edits of several elements at once. Each changes the draft it is given. */

/** Those of some elements that stand in no other of them, in the order they are drawn. Roots of screens are none. */
export function topmost(app: App, ids: readonly string[]): Element[] {
  const wanted = new Set(ids);
  const found: Element[] = [];
  for (const screen of drawnOf(app)) {
    const down = (e: Element): void => {
      if (wanted.has(e.id)) {
        found.push(e);
        return;
      }
      for (const c of childrenIn(e)) down(c);
    };
    for (const c of childrenIn(screen.root)) down(c);
  }
  return found;
}

/** What stands directly in an element, slot after slot. */
function childrenIn(e: Element): Element[] {
  const list: Element[] = [];
  walkElements([e], (inner, parent) => {
    if (parent === e) list.push(inner);
  });
  return list;
}

export function removeElements(app: App, ids: readonly string[]): void {
  for (const e of topmost(app, ids)) {
    const at = placeOf(app, e.id);
    if (at?.parent) at.list.splice(at.at, 1);
  }
}

/** Copies elements, each behind itself. Gives the ids of the copies. */
export function duplicateElements(app: App, ids: readonly string[]): string[] {
  return topmost(app, ids).flatMap((e) => {
    const at = placeOf(app, e.id);
    if (!at?.parent) return [];
    const copy = copyOf(at.list[at.at]!);
    at.list.splice(at.at + 1, 0, copy);
    return [copy.id];
  });
}

/** Moves elements, in their order, before or behind another or inside it. */
export function moveElements(app: App, ids: readonly string[], to: string, where: 'before' | 'after' | 'inside'): void {
  const moved = topmost(app, ids).map((e) => e.id);
  if (moved.includes(to)) return;
  const [first, ...rest] = where === 'after' ? [...moved].reverse() : moved;
  if (first === undefined) return;
  for (const id of [first, ...rest]) moveElement(app, id, to, where);
}

/** Puts elements into a box where the first of them stands. Gives the box; null when there is nothing to put in. */
export function putIntoBox(app: App, ids: readonly string[], id = newId): BoxElement | null {
  const inside = topmost(app, ids);
  const at = inside[0] && placeOf(app, inside[0].id);
  if (!at?.parent) return null;
  const across = at.parent.kind === 'box' && at.parent.runs === 'across';
  const box: BoxElement = {
    id: id('e'),
    kind: 'box',
    runs: across ? 'across' : 'down',
    gap: 8,
    inside: 0,
    surface: 'none',
    children: [],
  };
  at.list.splice(at.at, 0, box);
  for (const e of inside) {
    const from = placeOf(app, e.id)!;
    from.list.splice(from.at, 1);
    box.children.push(e);
  }
  return box;
}

/** Takes what stands in a box out of it, to where the box stood; the box goes. Gives what was taken out. */
export function takeOutOfBox(app: App, id: string): string[] {
  const at = placeOf(app, id);
  const box = at?.list[at.at];
  const inside = box?.kind === 'box' ? insideOf(box) : null;
  if (!at?.parent || !inside) return [];
  at.list.splice(at.at, 1, ...inside);
  return inside.map((e) => e.id);
}

/** The screen or part that all of some elements stand on; null when they stand on several, or nowhere. */
export function screenOfAll(app: App, ids: readonly string[]): Screen | null {
  const screens = new Set(ids.map((id) => placeOf(app, id)?.screen ?? null));
  const [only] = screens;
  return screens.size === 1 ? (only ?? null) : null;
}
