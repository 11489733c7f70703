import { lazy, type ComponentType } from 'react';
import type { Cell } from '../core/fields/lists.ts';
import type { Drawn } from '../core/screens/element.ts';
import type { input } from '../kinds/elements/input/definition.ts';

/** What the input of a type of field gets. */
export interface InputProps {
  e: Drawn<typeof input>;
  id: string;
  value: Cell;
  set(cell: Cell): void;
}

// One file a type, loaded when a form has such a field; a type without one is typed into a line.
const files = import.meta.glob<{ default: ComponentType<InputProps> }>('../kinds/fields/*/input.tsx');
const made = new Map<string, ComponentType<InputProps>>();

/** The input of a type of field on the phone; null for a line to type into. */
export function inputOf(type: string | null): ComponentType<InputProps> | null {
  const file = files[`../kinds/fields/${type}/input.tsx`];
  if (!type || !file) return null;
  const known = made.get(type) ?? lazy(() => file().catch(() => notHere(type)));
  made.set(type, known);
  return known;
}

/** Without a network what is not here is said, and tried again the next time: the screen around it stays. */
function notHere(type: string): { default: ComponentType<InputProps> } {
  made.delete(type);
  return { default: () => 'This comes when there is a network.' };
}
