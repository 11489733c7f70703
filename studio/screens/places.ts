import { useMemo } from 'react';
import type { AnyElement } from '../../core/document/meaning.ts';
import type { Model } from '../../core/records/model.ts';
import { reachAt, reachInside, type Reach } from '../../core/screens/reach.ts';
import type { Screen } from '../../core/app/schema.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import type { FormulaPlace } from '../chips/place.ts';
import { useModel } from '../state/model.ts';

/** What is in reach of an element of a screen. */
export function useReach(screen: Screen, element: string): Reach {
  const model = useModel();
  return useMemo(() => reachAt(elementKinds, model, screen, element), [model, screen, element]);
}

/** Where the formulas of an element stand. */
export function usePlace(screen: Screen, element: string): FormulaPlace {
  const reach = useReach(screen, element);
  return useMemo(() => ({ self: null, things: reach.things }), [reach]);
}

/** Where formulas inside a slot of an element stand. */
export const placeInside = (model: Model, place: FormulaPlace, e: AnyElement, slot: string): FormulaPlace => ({
  self: null,
  things: reachInside(elementKinds, model, { things: place.things, form: null }, e, slot).things,
});
