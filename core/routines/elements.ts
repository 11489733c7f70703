import type { AnyElement } from '../document/meaning.ts';
import { walkElements } from '../document/walk.ts';
import { StepError, type StepScope } from './step.ts';

/** What an element that a step names is called in the trace. Throws when it is not there. */
export function elementSaid(s: StepScope, id: string): string {
  let found: (AnyElement & { words?: string; label?: string }) | undefined;
  for (const screen of s.screens)
    if (screen.root) walkElements<AnyElement>([screen.root], (e) => (found = e.id === id ? e : found));
  if (!found) throw new StepError('The element is not chosen yet.');
  const words = found.name ?? found.label ?? found.words;
  return words && !words.includes('{') ? `“${words.slice(0, 60)}”` : `the ${found.kind}`;
}
