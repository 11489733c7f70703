import { fieldKind } from '../fields/kinds.ts';
import { listOf, type Type } from '../formula/types.ts';
import type { Value } from '../formula/values.ts';
import type { Records } from '../records/store.ts';
import { cellType } from '../records/cells.ts';
import type { Field } from '../tables/schema.ts';
import { thisId } from '../document/ids.ts';
import type { AnyElement, Brought, Slot } from '../document/meaning.ts';
import type { Model, Thing } from '../records/model.ts';
import { VARIABLES } from '../document/ids.ts';
import type { ElementKinds } from './element.ts';

/** What formulas may name at some place, and the form that inputs there belong to. */
export interface Reach {
  things: readonly Thing[];
  form: string | null;
}

/** The record of a table as a thing at hand. */
export function thingOf(model: Model, table: string | null): Thing[] {
  const known = table ? model.tables.get(table) : undefined;
  return known ? [{ id: thisId(table!), name: `this ${known.table.one}`, type: { k: 'record', table: table! } }] : [];
}

/** The variables of an app as things at hand: its own, and those of one screen or, where none is named, of all. */
export const variablesAt = (model: Model, screen?: string): Thing[] =>
  (model.app.variables ?? [])
    .filter((v) => v.lasts !== 'screen' || screen === undefined || v.screen === screen)
    .map((v): Thing => ({ id: v.id, name: v.name, type: model.member(VARIABLES, v.id)!.type, variable: true }));

/** As much of a screen or part as decides what is at hand on it. */
export interface Seen {
  id: string;
  given: string | null;
  /** Of a part. */
  inputs?: readonly (Field & { isTap?: true | undefined })[] | undefined;
}

/** The inputs of a part or a routine as things at hand. */
export const inputThings = ({ inputs = [] }: Pick<Seen, 'inputs'>): Thing[] =>
  inputs.flatMap((i): Thing[] => {
    if (i.isTap) return [];
    const one: Type = i.link ? { k: 'record', table: i.link.table } : cellType(i);
    const isList = i.several && (i.link || fieldKind(i.type).holdsFile);
    return [{ id: i.id, name: i.name, type: isList ? listOf(one) : one }];
  });

/** What is at hand on a screen: the record it is given, and variables. */
export const reachOfScreen = (model: Model, screen: Seen): Reach => ({
  things: [...thingOf(model, screen.given), ...inputThings(screen), ...variablesAt(model, screen.id)],
  form: null,
});

/** What a variable is now; null for one that is gone. */
export const valueOfVariable = (records: Records, variable: string): Value =>
  records.rows(VARIABLES)[0]?.get(variable) ?? null;

/** Reach inside a slot. The row of a list stands before a record of the same table further out. */
export function inside(model: Model, reach: Reach, brought: Brought): Reach {
  const row = thingOf(model, brought.row ?? null);
  return {
    things: row.length ? [...reach.things.filter((t) => t.id !== row[0]!.id), ...row] : reach.things,
    form: brought.row ? null : (brought.form ?? reach.form),
  };
}

/** What a slot of this element brings along. */
export const broughtBy = (slot: Slot | undefined, owner: object): Brought =>
  slot?.brings?.(owner as Record<string, unknown>) ?? {};

/** Visits every element of a tree with what is in its reach; parents first. */
export function walkReach(
  kinds: ElementKinds,
  model: Model,
  e: AnyElement,
  reach: Reach,
  visit: (e: AnyElement, reach: Reach) => void,
): void {
  visit(e, reach);
  const properties = kinds.get(e.kind)?.properties ?? {};
  for (const [name, p] of Object.entries(properties)) {
    if (p.is !== 'elements') continue;
    const list = ((e as unknown as Record<string, unknown>)[name] ?? []) as AnyElement[];
    const within = inside(model, reach, broughtBy(p.slot, e));
    for (const child of list) walkReach(kinds, model, child, within, visit);
  }
}

/** What is in reach of one element of a screen. */
export function reachAt(
  kinds: ElementKinds,
  model: Model,
  screen: Seen & { root: AnyElement },
  element: string,
): Reach {
  const outer = reachOfScreen(model, screen);
  let found = outer;
  walkReach(kinds, model, screen.root, outer, (e, reach) => {
    if (e.id === element) found = reach;
  });
  return found;
}

/** What is in reach inside a slot of an element, where rows of a list or inputs of a form stand. */
export function reachInside(kinds: ElementKinds, model: Model, reach: Reach, e: AnyElement, slot: string): Reach {
  return inside(model, reach, broughtBy(kinds.get(e.kind)?.properties[slot]?.slot, e));
}
