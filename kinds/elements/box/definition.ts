import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, number, oneOf, optional, tap } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

export const box = defineElement({
  kind: 'box',
  said: { name: 'Box', hint: 'holds others' },
  properties: {
    runs: oneOf('how it runs', { down: 'Down', across: 'Across', grid: 'Grid', layered: 'Layered' }),
    gap: number('the gap', 0, 64),
    inside: number('the inside edge', 0, 64),
    surface: oneOf('the surface', { none: 'none', card: 'card', tint: 'tint' }),
    across: optional(
      oneOf('lined up', { start: 'at the top', middle: 'in the middle', end: 'at the bottom', spread: 'spread out' }),
    ),
    tap: optional(tap('a tap')),
    children: elements('what it holds', MOST_CHILDREN),
  },
}).does({
  begin: () => ({ runs: 'down', gap: 8, inside: 12, surface: 'tint', children: [] }),
  name: (e) => (e.runs === 'across' ? 'Row' : 'Box'),
  draw: (e) => () => ({
    runs: e.runs,
    gap: e.gap,
    inside: e.inside,
    surface: e.surface,
    across: e.across,
    tap: tapped(e.tap),
  }),
});
