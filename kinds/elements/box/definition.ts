import { MOST_CHILDREN } from '../../../core/document/limits.ts';
import { elements, formula, number, oneOf, optional, sides, tap, yesNo } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';
import { GRID_COLUMNS } from '../columns.ts';

export const box = defineElement({
  kind: 'box',
  said: { name: 'Box', hint: 'holds others' },
  properties: {
    runs: oneOf('how it runs', { down: 'Down', across: 'Across', grid: 'Grid', layered: 'Layered' }),
    ...GRID_COLUMNS,
    gap: number('the gap', 0, 64),
    inside: number('the inside edge', 0, 64),
    surface: oneOf('the surface', { none: 'none', card: 'card', tint: 'tint' }),
    across: optional(
      oneOf('lined up', { start: 'at the top', middle: 'in the middle', end: 'at the bottom', spread: 'spread out' }),
    ),
    along: optional(
      oneOf('where what it holds begins', {
        start: 'at the start',
        middle: 'in the middle',
        end: 'at the end',
        spread: 'spread out',
      }),
    ),
    corners: optional(sides('the corners', 0, 200)),
    sides: optional(sides('the inside edge of each side', 0, 200)),
    edge: optional(yesNo('a line around it')),
    raised: optional(yesNo('a shadow under it')),
    clip: optional(yesNo('what sticks out is cut off')),
    behind: optional(formula('the picture behind', 'picture')),
    tap: optional(tap('a tap')),
    long: optional(tap('a long press')),
    children: elements('what it holds', MOST_CHILDREN),
  },
}).does({
  begin: () => ({ runs: 'down', gap: 8, inside: 12, surface: 'tint', children: [] }),
  name: (e) => (e.runs === 'across' ? 'Row' : 'Box'),
  draw(e, d) {
    const behind = e.behind === undefined ? null : d.formula(e.behind);
    const { runs, gap, surface, across, along, edge, raised, clip, corners, columns, wideColumns } = e;
    const look = {
      runs,
      columns,
      wideColumns,
      gap,
      surface,
      across,
      along,
      edge,
      raised,
      clip,
      tap: tapped(e.tap),
      long: tapped(e.long),
    };
    return (p) => ({
      ...look,
      inside: e.sides ?? e.inside,
      corners,
      behind: behind ? d.address(String(behind.at(p) ?? '')) : '',
    });
  },
});
