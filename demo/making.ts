import type { ElementMaker } from '../core/app/make.ts';
import type { App, Element, Routine, Screen, Step } from '../core/app/schema.ts';

/** What the parts of the demo make their routines and screens with. */
export function makingOf(app: App, make: ElementMaker) {
  const say = (words: string, more: object = {}): Step => make.step('message', { words, ...more });
  return {
    say,
    screen: (name: string): Screen => app.screens.find((s) => s.name === name)!,
    routine(name: string, given: string | null, steps: Step[], more: Partial<Routine> = {}): Routine {
      const made = { id: make.id('q'), name, given, steps, ...more };
      app.routines.push(made);
      return made;
    },
    /** The same step; where it fails, why is said and the routine ends. */
    caught: <S extends Step>(step: S, words: string): S => ({
      ...step,
      ifFails: [say(words), make.step('stop')],
      reason: make.id('v'),
    }),
    /** A card that leads to a screen. */
    wayTo: (to: Screen): Element =>
      make.box(
        'across',
        [make.make('icon', { icon: to.icon, size: 20 }), make.text(to.name, 'strong', { width: 'fill' })],
        { surface: 'card', gap: 10, inside: 14, across: 'middle', tap: { do: 'open', screen: to.id, give: '' } },
      ),
  };
}
