import { elementKinds } from '../screens/kinds.ts';
import { newId } from '../document/ids.ts';
import type { AnyElement } from '../document/meaning.ts';
import { freeName } from '../document/names.ts';
import { cloned } from '../document/copy.ts';
import { walkElements } from '../document/walk.ts';
import type { Model, Thing } from '../records/model.ts';
import { isPartUse, type PartUse } from '../screens/part-places.ts';
import { expanded, mentions, Replacing } from '../screens/parts.ts';
import { reachAt } from '../screens/reach.ts';
import { placeOf } from './edits.ts';
import { elementName, partOf } from './names.ts';
import type { App, BoxElement, Element, Part } from './schema.ts';

/** Edits of parts. Each changes the draft it is given. */

/** Does an element, or anything in it, name this id in a formula? */
const names = (e: AnyElement, id: string): boolean => mentions(JSON.stringify(e).replace(/\\?"/g, ' '), id);

/**
 * Makes a part of an element and puts a place of it where the element stood. What the element names from around it
 * becomes an input, with what it named as its value there. Gives the part; or why it cannot be made, in words.
 */
export function makePart(app: App, model: Model, elementId: string, id = newId): Part | string {
  const at = placeOf(app, elementId);
  const element = at?.list[at.at];
  if (!at?.parent || !element) return 'The whole screen cannot become a part. Put what you want into a box first.';
  const reach = reachAt(elementKinds, model, at.screen, elementId);
  if (reach.form && usesForm(element)) return 'It belongs to the form around it. Make a part of the whole form.';
  const used = reach.things.filter((t) => names(element, t.id) && !isEverywhere(app, t));
  const inputs = used.map((t) => inputFor(app, t, id('i')));
  const values = new Map(used.map((t, i) => [t.id, inputs[i]!.id]));
  const copy = new Replacing(elementKinds, new Map(), (id) => id).element(cloned(element) as AnyElement, values);
  const part: Part = {
    id: id('c'),
    name: freeName(
      elementName(app, element),
      (app.parts ?? []).map((p) => p.name),
    ),
    given: null,
    icon: 'puzzle',
    inputs,
    root: boxed(copy as Element, id),
  };
  app.parts = [...(app.parts ?? []), part];
  const place = {
    id: id('e'),
    kind: 'part',
    part: part.id,
    values: inputs.map((input, i) => ({ field: input.id, value: used[i]!.id })),
  } as unknown as Element;
  at.list.splice(at.at, 1, place);
  return part;
}

/** Variables that are there on every screen need not be handed in. */
const isEverywhere = (app: App, t: Thing): boolean =>
  Boolean(t.variable && app.variables?.some((v) => v.id === t.id && v.lasts !== 'screen'));

function inputFor(app: App, t: Thing, id: string): Part['inputs'][number] {
  const name = t.name.replace(/^this /, '');
  const variable = app.variables?.find((v) => v.id === t.id);
  if (variable) {
    const { lasts: _lasts, screen: _screen, ...rest } = cloned(variable);
    return { ...rest, id, name, first: '' };
  }
  const table = t.type.k === 'record' ? t.type.table : '';
  return { id, name, type: 'link', link: { kind: 'picked', table, backName: '' }, first: '' };
}

/** Does it fill in or save a form that is not its own? */
function usesForm(element: Element): boolean {
  let found = false;
  const look = (e: Element): void => {
    if (e.kind === 'form') return;
    const { tap } = e as { tap?: { do: string } };
    if (e.kind === 'input' && !e.field.startsWith('v_')) found = true;
    if (tap?.do === 'save') found = true;
    for (const c of (e as { children?: Element[] }).children ?? []) look(c);
  };
  look(element);
  return found;
}

const boxed = (e: Element, id: (letter: string) => string): BoxElement =>
  e.kind === 'box' ? e : { id: id('e'), kind: 'box', runs: 'down', gap: 0, inside: 0, surface: 'none', children: [e] };

/** Puts the elements of a part where a place of it stands. Gives the outermost; null where the part is gone. */
export function takeApart(app: App, placeId: string): Element | null {
  const at = placeOf(app, placeId);
  const use = at?.list[at.at];
  const part = use && isPartUse(use) ? partOf(app, use.part) : undefined;
  if (!at || !use || !part) return null;
  const whole = { ...expanded(elementKinds, cloned(part), cloned(use) as unknown as PartUse, () => newId('e')) };
  const root = { ...whole, id: newId('e') } as unknown as Element;
  at.list.splice(at.at, 1, root);
  return root;
}

/** A new element that is a place of a part; records that are at hand are given to inputs that take them. */
export function placeOfPart(part: Part, things: readonly Thing[]): Element {
  const values = part.inputs.flatMap((i) => {
    const fits = things.findLast((t) => t.type.k === 'record' && !i.several && t.type.table === i.link?.table);
    return fits ? [{ field: i.id, value: fits.id }] : [];
  });
  return { id: newId('e'), kind: 'part', part: part.id, values } as unknown as Element;
}

/** Removes a part; its places are taken apart first, so that nothing goes from any screen. */
export function removePart(app: App, id: string): void {
  for (;;) {
    const use = placesOf(app, id)[0];
    if (!use) break;
    takeApart(app, use);
  }
  app.parts = app.parts?.filter((p) => p.id !== id);
}

/** Where a part stands, by the ids of its places. */
export function placesOf(app: App, id: string): string[] {
  const found: string[] = [];
  for (const drawn of [...app.screens, ...(app.parts ?? [])])
    walkElements<AnyElement>([drawn.root], (e) => {
      if (isPartUse(e) && e.part === id && drawn.id !== id) found.push(e.id);
    });
  return found;
}

/** Would a part, put into another, come to stand in itself? */
export function holdsPart(app: App, outer: string, inner: string): boolean {
  const held = new Set([outer]);
  // What is added while it is gone through is gone through too.
  for (const id of held) {
    const part = partOf(app, id);
    if (part)
      walkElements<AnyElement>([part.root], (e) => {
        if (isPartUse(e)) held.add(e.part);
      });
  }
  return held.has(inner);
}

/** How many places of parts stand in each part, those within those counted; without end where a part holds itself. */
export function placesInside(app: App): Map<string, number> {
  const known = new Map<string, number>();
  const count = (id: string): number => {
    const there = known.get(id);
    if (there !== undefined) return there;
    // Whoever comes here again while it is counted has come round in a circle.
    known.set(id, Infinity);
    let places = 0;
    const part = partOf(app, id);
    if (part)
      walkElements<AnyElement>([part.root], (e) => {
        if (isPartUse(e)) places += 1 + count(e.part);
      });
    known.set(id, places);
    return places;
  };
  for (const p of app.parts ?? []) count(p.id);
  return known;
}
