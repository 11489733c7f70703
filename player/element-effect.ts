import type { Effect } from '../core/session/effects.ts';

type ElementEffect = Extract<Effect, { do: 'element' }>;
/** Said to the input that is filled in by a routine. */
export const FILLED = 'k-filled';

/** What routines said of the elements of a screen, by its scrolling area: gone when the screen is left. */
const said = new WeakMap<Element, Map<string, Set<'hide' | 'disable'>>>();

/** Does what a routine says of an element on the screen that is seen. Hidden and disabled ones stay so until it is left. */
export function tellElement(root: HTMLElement, { element, how, cell }: ElementEffect): void {
  const screens = [...root.querySelectorAll<HTMLElement>('.k-scroll')];
  const find = (): HTMLElement | null => root.querySelector(`[data-e="${CSS.escape(element)}"]`);
  const node = find();
  switch (how) {
    case 'fill':
      dispatchEvent(new CustomEvent(FILLED, { detail: { element, cell } }));
      return;
    case 'scroll':
      return node?.scrollIntoView({ block: 'center', behavior: 'smooth' });
    case 'focus': {
      const into = node?.querySelector<HTMLElement>('input:not([type=file]), textarea, select, button, [tabindex]');
      return (into ?? node)?.focus();
    }
    default: {
      const screen = node?.closest<HTMLElement>('.k-scroll') ?? screens.at(-1);
      if (screen) mark(screen, element, how);
    }
  }
}

function mark(screen: HTMLElement, element: string, how: 'show' | 'hide' | 'enable' | 'disable'): void {
  let all = said.get(screen);
  if (!all) {
    said.set(screen, (all = new Map()));
    // What is drawn anew is as it was said before.
    new MutationObserver(() => apply(screen)).observe(screen, { childList: true, subtree: true });
  }
  const of = all.get(element) ?? new Set();
  all.set(element, of);
  if (how === 'hide' || how === 'disable') of.add(how);
  else of.delete(how === 'show' ? 'hide' : 'disable');
  apply(screen);
}

function apply(screen: HTMLElement): void {
  for (const [element, how] of said.get(screen) ?? [])
    for (const node of screen.querySelectorAll<HTMLElement>(`[data-e="${CSS.escape(element)}"]`)) {
      node.toggleAttribute('data-hidden', how.has('hide'));
      node.toggleAttribute('data-disabled', how.has('disable'));
      node.inert = how.has('disable');
    }
}
