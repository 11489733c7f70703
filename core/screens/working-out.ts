import type { Properties, Property } from '../document/meaning.ts';

/** Properties of every element that can be worked out by a formula too. */
export const COMMON_BY: Properties = {
  width: { is: 'number', said: 'the width in pixels' },
  height: { is: 'number', said: 'the height in pixels' },
};

/** Meanings whose value can be worked out by a formula that stands beside it; others are formulas by themselves. */
const WORKED = new Set<Property['is']>(['oneOf', 'number', 'yesNo', 'icon', 'text']);
export const canBeWorkedOut = (p: Property): boolean => WORKED.has(p.is);
